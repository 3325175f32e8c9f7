// A set, the separators or the rest: what it is, why, how sure, and its frames.
import { useDraggable, useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { CardFile, CardSet, FrameCheckRecord } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { KIND_WORDS } from '../../shared/kinds';
import { joinToPrevious, reverseSet, setKind, type Place } from './editSorting';
import type { SortRow } from './sortRows';
import { thumbUrl, type SortingEditor } from './useCard';

interface SetRowProps {
  readonly row: SortRow;
  readonly first: boolean;
  readonly set: CardSet | null;
  readonly files: ReadonlyMap<string, CardFile>;
  readonly chosen: string | null;
  readonly editor: SortingEditor;
  onChoose(id: string): void;
}

export function SetRow({ row, first, set, files, chosen, editor, onChoose }: SetRowProps) {
  if (!set && row.files.length === 0) return null;
  const name = set ? KIND_WORDS[set.kind] : row.key === 'separators' ? 'Separators' : 'In no set';
  return (
    <Box
      component="section"
      aria-label={`${name}, ${row.files.length} ${row.files.length === 1 ? 'frame' : 'frames'}`}
      sx={{
        py: 1.5,
        borderBottom: `1px solid ${GREY.rule}`,
        contentVisibility: 'auto',
        containIntrinsicSize: 'auto 190px',
      }}
    >
      {set ? <SetHead set={set} first={first} editor={editor} /> : <PlainHead name={name} row={row} />}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: 1 }}>
        {row.files.map((id, k) => (
          <Frame
            key={id}
            id={id}
            number={set ? k + 1 : null}
            label={set?.labels[id] ?? ''}
            place={row.place}
            file={files.get(id)}
            checks={set?.checks.filter((c) => c.file === id) ?? []}
            leftOut={set?.leftOut.includes(id) ?? false}
            isChosen={id === chosen}
            onChoose={() => onChoose(id)}
          />
        ))}
        <RowEnd place={row.place} rowKey={row.key} />
      </Box>
    </Box>
  );
}

function PlainHead({ name, row }: { readonly name: string; readonly row: SortRow }) {
  return (
    <Box>
      <Typography variant="h2">{name}</Typography>
      <Typography variant="body2" color="text.secondary">
        {row.key === 'separators'
          ? 'frames of a hand or a covered lens, between sets'
          : 'lone frames, and files that could not be read'}
      </Typography>
    </Box>
  );
}

function SetHead({
  set,
  first,
  editor,
}: {
  readonly set: CardSet;
  readonly first: boolean;
  readonly editor: SortingEditor;
}) {
  const redundant = set.checks.filter((c) => c.check === 'redundant' && !set.leftOut.includes(c.file)).length;
  const spoilt = new Set(set.checks.filter((c) => c.spoils && !set.leftOut.includes(c.file)).map((c) => c.file)).size;
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center' }}>
      <TextField
        select
        size="small"
        value={set.kind}
        onChange={(event) => editor.edit((s) => setKind(s, set.id, event.target.value as CardSet['kind']))}
        slotProps={{ htmlInput: { 'aria-label': 'Kind of set' } }}
        sx={{ width: 140 }}
      >
        {Object.entries(KIND_WORDS).map(([kind, words]) => (
          <MenuItem key={kind} value={kind}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography>
          {set.files.length - set.leftOut.length} of {set.files.length} frames
          {spoilt > 0 && (
            <Box component="strong" sx={{ color: 'warning.main' }}>
              {' '}
              · {spoilt} {spoilt === 1 ? 'frame spoils' : 'frames spoil'} the set
            </Box>
          )}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {set.why}; {(100 * set.confidence).toFixed(0)} % sure
          {set.overlaps.length > 0 && `; ${overlapWords(set.overlaps)}`}
          {redundant > 0 && `; ${redundant} may be left out${redundant > 1 ? ' together' : ''}`}
        </Typography>
      </Box>
      <Button onClick={() => editor.edit((s) => reverseSet(s, set.id))}>Turn order</Button>
      {!first && <Button onClick={() => editor.edit((s) => joinToPrevious(s, set.id))}>Join to the one above</Button>}
      {set.jobId ? (
        <Button component={Link} to={`/jobs/${set.jobId}/frames`} variant="outlined">
          Open the job
        </Button>
      ) : (
        <Button variant="contained" onClick={() => void editor.makeJob(set.id)}>
          Make a job
        </Button>
      )}
    </Box>
  );
}

function overlapWords(overlaps: readonly number[]): string {
  const [least, most] = [Math.min(...overlaps), Math.max(...overlaps)].map((v) => Math.round(100 * v));
  return `neighbours share ${least === most ? '' : `${least} to `}${most} %`;
}

interface FrameProps {
  readonly id: string;
  readonly number: number | null;
  readonly label: string;
  readonly place: Place;
  readonly file: CardFile | undefined;
  readonly checks: readonly FrameCheckRecord[];
  readonly leftOut: boolean;
  readonly isChosen: boolean;
  onChoose(): void;
}

function Frame({ id, number, label, place, file, checks, leftOut, isChosen, onChoose }: FrameProps) {
  const drag = useDraggable({ id });
  const drop = useDroppable({ id: `before-${id}`, data: { place, before: id } });
  const name = file?.fileName ?? id;
  const spoils = checks.some((c) => c.spoils);
  const words = [
    name,
    ...(leftOut ? ['left out'] : []),
    ...checks.map((c) => c.check.replace('-', ' ')),
    ...(file?.error ? ['cannot be read'] : []),
  ];
  return (
    <Box ref={drop.setNodeRef} sx={{ borderLeft: `3px solid ${drop.isOver ? GREY.text : 'transparent'}` }}>
      <ButtonBase
        ref={drag.setNodeRef}
        {...drag.listeners}
        id={`file-${id}`}
        aria-label={words.join(', ')}
        aria-pressed={isChosen}
        onClick={onChoose}
        onFocus={onChoose}
        sx={{
          display: 'block',
          width: 116,
          textAlign: 'left',
          opacity: drag.isDragging ? 0.4 : 1,
          outline: isChosen ? `2px solid ${GREY.text}` : 'none',
          outlineOffset: 1,
          transform: drag.transform ? `translate(${drag.transform.x}px, ${drag.transform.y}px)` : 'none',
          zIndex: drag.isDragging ? 2 : 'auto',
        }}
      >
        <Box sx={{ height: 80, bgcolor: GREY.panel, position: 'relative' }}>
          {file?.looked && (
            <Box
              component="img"
              src={thumbUrl(id)}
              alt=""
              loading="lazy"
              draggable={false}
              sx={{ width: '100%', height: '100%', objectFit: 'contain', opacity: leftOut ? 0.25 : 1 }}
            />
          )}
          {checks.length > 0 && (
            <Box
              sx={{
                position: 'absolute',
                right: 0,
                bottom: 0,
                px: 0.75,
                bgcolor: spoils ? 'warning.main' : GREY.quiet,
                color: '#141414',
                fontWeight: 700,
                fontSize: 12,
              }}
            >
              {checks[0]!.check.replace('-', ' ')}
              {checks.length > 1 ? ` +${checks.length - 1}` : ''}
            </Box>
          )}
        </Box>
        <Typography variant="body2" noWrap sx={{ textDecoration: leftOut ? 'line-through' : 'none' }}>
          {number !== null && <b>{number} </b>}
          {name}
        </Typography>
        {label && (
          <Typography variant="body2" color="text.secondary" noWrap>
            {label}
          </Typography>
        )}
      </ButtonBase>
    </Box>
  );
}

/** The end of a row, to drop a frame behind the last. */
function RowEnd({ place, rowKey }: { readonly place: Place; readonly rowKey: string }) {
  const { setNodeRef, isOver } = useDroppable({ id: `end-${rowKey}`, data: { place, before: null } });
  return (
    <Box
      ref={setNodeRef}
      sx={{ flex: 1, minWidth: 12, borderLeft: `3px solid ${isOver ? GREY.text : 'transparent'}` }}
    />
  );
}
