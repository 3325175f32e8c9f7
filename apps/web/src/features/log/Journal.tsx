// The journal: searched, and taken away.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import type { JournalEntry, JournalKind } from '@blendrak/contract';
import { GREY, MONO } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { Choice } from '../../shared/Choice';
import { LongList } from '../../shared/LongList';
import { journalQuery, useJournal, type JournalSearch } from './logApi';

const KINDS: readonly (readonly [JournalKind | 'all', string])[] = [
  ['all', 'everything'],
  ['processed', 'merged and inspected'],
  ['decided', 'decisions'],
  ['repaired', 'repairs'],
  ['waived', 'waivers'],
  ['signed', 'signatures'],
  ['delivered', 'deliveries'],
  ['note', 'notes by hand'],
];
const ROW_PX = 44;

export function Journal() {
  const [search, setSearch] = useState<JournalSearch>({ text: '', kind: 'all' });
  const journal = useJournal(search);
  const entries = journal.data ?? [];
  const query = journalQuery(search);
  return (
    <Box sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 1.5, height: '100%' }}>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <TextField
          size="small"
          label="Search"
          value={search.text}
          onChange={(e) => setSearch({ ...search, text: e.target.value })}
          sx={{ width: 260 }}
        />
        <Choice label="What" value={search.kind} choices={KINDS} onChange={(kind) => setSearch({ ...search, kind })} />
        <Box sx={{ flex: 1 }} />
        <Button component="a" href={`/api/journal.csv?${query}`} download color="inherit">
          As a table, CSV
        </Button>
        <Button component="a" href={`/api/journal.json?${query}`} download color="inherit">
          JSON
        </Button>
      </Box>
      {journal.error ? (
        <Typography color="error">{wordsOf(journal.error)}</Typography>
      ) : entries.length === 0 ? (
        <Typography color="text.secondary">
          {query === '' ? 'Nothing was done yet.' : 'Nothing in the journal says that.'}
        </Typography>
      ) : (
        <LongList
          label="Journal"
          count={entries.length}
          rowPx={ROW_PX}
          keyOf={(k) => String(entries[k]!.id)}
          row={(k) => <Entry entry={entries[k]!} />}
        />
      )}
    </Box>
  );
}

function Entry({ entry: { at, jobId, jobName, words, tookS, kind } }: { readonly entry: JournalEntry }) {
  return (
    <Box
      sx={{
        height: ROW_PX,
        display: 'grid',
        gridTemplateColumns: '140px 220px 1fr 70px',
        gap: 2,
        alignItems: 'center',
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <Box component="time" dateTime={at} sx={{ fontFamily: MONO, fontSize: 12, color: GREY.quiet }}>
        {at.slice(0, 10)} {at.slice(11, 16)}
      </Box>
      <Typography noWrap variant="body2">
        {kind === 'removed' ? (
          jobName
        ) : (
          <Link to={`/jobs/${jobId}/bench`} style={{ color: GREY.text }}>
            {jobName}
          </Link>
        )}
      </Typography>
      <Typography noWrap variant="body2" title={words}>
        {words}
      </Typography>
      <Box component="span" sx={{ fontFamily: MONO, fontSize: 12, color: GREY.quiet, textAlign: 'right' }}>
        {tookS === null ? '' : `${tookS.toFixed(1)} s`}
      </Box>
    </Box>
  );
}
