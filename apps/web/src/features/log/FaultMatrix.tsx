// Groups of jobs against defects: how many jobs have which, with what that says of others; and the jobs behind each cell.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import type { DefectWord, JobSummary, Log, LogCell } from '@blendrak/contract';
import { GREY, MONO } from '../../app/theme';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';
import { shareWords, tells } from './logWords';

const BAR_PX = 74;

interface FaultMatrixProps {
  readonly log: Log;
  readonly jobs: readonly JobSummary[];
}

export function FaultMatrix({ log, jobs }: FaultMatrixProps) {
  const [chosen, setChosen] = useState<{ group: string; defect: DefectWord } | null>(null);
  const defects = [...new Set(log.groups.flatMap((g) => g.cells.map((c) => c.defect)))];
  const group = log.groups.find((g) => g.name === chosen?.group);
  const cell = group?.cells.find((c) => c.defect === chosen?.defect);
  if (defects.length === 0) return null;
  return (
    <Box>
      <Box sx={{ overflowX: 'auto' }}>
        <Box
          component="table"
          sx={{ borderCollapse: 'collapse', '& th, & td': { p: 0.75, textAlign: 'left', fontWeight: 400 } }}
        >
          <thead>
            <tr>
              <th scope="col">Jobs</th>
              {defects.map((defect) => (
                <Box component="th" key={defect} scope="col" sx={{ whiteSpace: 'nowrap', fontSize: 12 }}>
                  <DefectSign defect={defect} size={14} /> {DEFECT_LOOKS[defect].name}
                </Box>
              ))}
            </tr>
          </thead>
          <tbody>
            {log.groups.map(({ name, jobs: of, cells }) => (
              <Box component="tr" key={name} sx={{ borderTop: `1px solid ${GREY.rule}` }}>
                <Box component="th" scope="row" sx={{ whiteSpace: 'nowrap' }}>
                  {name} <span style={{ fontFamily: MONO, fontSize: 12 }}>{of}</span>
                </Box>
                {defects.map((defect) => {
                  const found = cells.find((c) => c.defect === defect);
                  return (
                    <td key={defect}>
                      {found ? (
                        <Share
                          cell={found}
                          of={of}
                          label={`${name}, ${DEFECT_LOOKS[defect].name}: ${shareWords(found, of)}`}
                          isChosen={chosen?.group === name && chosen.defect === defect}
                          onChoose={() => setChosen({ group: name, defect })}
                        />
                      ) : (
                        <span style={{ color: GREY.quiet }}>none</span>
                      )}
                    </td>
                  );
                })}
              </Box>
            ))}
          </tbody>
        </Box>
      </Box>
      {cell && group && (
        <Box
          component="section"
          aria-label="Jobs behind it"
          sx={{ mt: 1.5, borderLeft: `3px solid ${GREY.rule}`, pl: 1.5 }}
        >
          <Typography variant="body2">
            {DEFECT_LOOKS[cell.defect].name}, {group.name}: {shareWords(cell, group.jobs)}. {cell.findings} findings,{' '}
            {cell.repaired} repaired, {cell.reshot} to be shot again.
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, mt: 0.5 }}>
            {cell.jobIds.map((id) => {
              const job = jobs.find((j) => j.id === id);
              return job ? (
                <Link key={id} to={`/jobs/${id}/bench`} style={{ color: GREY.text }}>
                  {job.name}
                </Link>
              ) : (
                <span key={id} style={{ color: GREY.quiet }}>
                  a job that was removed
                </span>
              );
            })}
          </Box>
        </Box>
      )}
    </Box>
  );
}

interface ShareProps {
  readonly cell: LogCell;
  readonly of: number;
  readonly label: string;
  readonly isChosen: boolean;
  onChoose(): void;
}

/** The share seen as a mark, what it can be as a bar; pale where it tells nothing yet. */
function Share({ cell, of, label, isChosen, onChoose }: ShareProps) {
  const { low, high } = cell.share;
  return (
    <ButtonBase
      aria-label={label}
      aria-pressed={isChosen}
      title={label}
      onClick={onChoose}
      sx={{
        display: 'block',
        minHeight: 30,
        px: 0.5,
        textAlign: 'left',
        bgcolor: isChosen ? GREY.raised : 'transparent',
        '&:hover': { bgcolor: GREY.raised },
      }}
    >
      <Box component="span" sx={{ fontFamily: MONO, fontSize: 12 }}>
        {cell.jobs}/{of}
      </Box>
      <svg width={BAR_PX} height={8} style={{ display: 'block' }} aria-hidden>
        <path d={`M0 4H${BAR_PX}`} stroke={GREY.rule} />
        <path
          d={`M${low * BAR_PX} 4H${high * BAR_PX}`}
          stroke={tells(cell) ? GREY.text : '#8a8a8a'}
          strokeWidth={tells(cell) ? 4 : 2}
        />
        <path d={`M${(cell.jobs / of) * BAR_PX} 0v8`} stroke="#fff" strokeWidth={2} />
      </svg>
    </ButtonBase>
  );
}
