// One card: its sets with what is wrong in them, edited by drag and drop or by keyboard, made into jobs.
import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Card, CardFile } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { bindCommands } from '../../shared/commands/keys';
import { useCommandKeys } from '../../shared/commands/useCommandKeys';
import { WorkProgress } from '../../shared/WorkProgress';
import { moveFile, newSetOf, splitSet, toggleLeftOut, type Place } from './editSorting';
import { SORT_COMMANDS } from './commands';
import { FilePanel } from './FilePanel';
import { SetRow } from './SetRow';
import { rowsOf, type SortRow } from './sortRows';
import { useCard, useSortingEditor } from './useCard';
import { newId } from '../../shared/newId';

export function SortScreen() {
  const { cardId = '' } = useParams();
  const card = useCard(cardId);
  if (card.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (card.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(card.error)}
      </Typography>
    );
  return <Sorting key={cardId} card={card.data} />;
}

function Sorting({ card }: { readonly card: Card }) {
  const editor = useSortingEditor(card);
  const [chosen, setChosen] = useState<string | null>(null);
  const { sorting, summary } = card;
  const files = useMemo(() => new Map(card.files.map((f) => [f.id, f])), [card.files]);
  const rows = useMemo(() => (sorting ? rowsOf(sorting) : []), [sorting]);
  useKeys(rows, chosen, setChosen, editor);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const drop = ({ active, over }: DragEndEvent): void => {
    if (!over) return;
    const { place, before } = over.data.current as { place: Place; before: string | null };
    editor.edit((s) => moveFile(s, String(active.id), place, before));
  };
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto 1fr', minHeight: 0 }}>
      <Box
        sx={{ display: 'flex', gap: 1.5, alignItems: 'center', px: 2, py: 1, borderBottom: `1px solid ${GREY.rule}` }}
      >
        <Button component={Link} to="/sort">
          All cards
        </Button>
        <Typography variant="h1">{summary.name}</Typography>
        <Typography color="text.secondary">{summary.files} files</Typography>
        <Box sx={{ flex: 1 }}>{summary.work && <WorkProgress work={summary.work} />}</Box>
        <Button onClick={editor.undo}>Undo</Button>
        <Button variant="outlined" onClick={editor.sortAgain}>
          Sort again
        </Button>
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 300px', minHeight: 0 }}>
        <Box sx={{ overflow: 'auto', px: 2 }}>
          {!sorting && (
            <Typography sx={{ py: 3 }}>{summary.work ? 'Looking at the files …' : 'Not sorted yet.'}</Typography>
          )}
          <DndContext sensors={sensors} onDragEnd={drop}>
            {sorting &&
              rows.map((row, k) => (
                <SetRow
                  key={row.key}
                  row={row}
                  first={k === 0}
                  set={sorting.sets.find((s) => s.id === row.key) ?? null}
                  files={files}
                  chosen={chosen}
                  editor={editor}
                  onChoose={setChosen}
                />
              ))}
          </DndContext>
        </Box>
        <FilePanel
          file={chosen === null ? null : (files.get(chosen) ?? null)}
          sorting={sorting}
          files={files as ReadonlyMap<string, CardFile>}
          editor={editor}
        />
      </Box>
    </Box>
  );
}

/** Keyboard: arrows walk, with Shift they move the frame; O leaves out, S splits before, N makes a new set, Z undoes. */
function useKeys(
  rows: readonly SortRow[],
  chosen: string | null,
  choose: (id: string) => void,
  editor: ReturnType<typeof useSortingEditor>,
): void {
  const at = rows.findIndex((r) => chosen !== null && r.files.includes(chosen));
  const row = rows[at];
  const k = row && chosen !== null ? row.files.indexOf(chosen) : -1;
  const pick = (id: string | undefined): void => {
    if (id === undefined) return;
    choose(id);
    document.getElementById(`file-${id}`)?.focus();
  };
  const walk = (steps: number): void => {
    const all = rows.flatMap((r) => r.files);
    pick(chosen === null ? all[0] : all[all.indexOf(chosen) + steps]);
  };
  const hop = (steps: number): void => {
    for (let i = at + steps; i >= 0 && i < rows.length; i += steps) {
      const files = rows[i]!.files;
      if (files.length > 0) return pick(files[Math.min(k, files.length - 1)]);
    }
  };
  const shift = (steps: number): void => {
    if (!row || chosen === null) return;
    const before = steps < 0 ? row.files[k - 1] : row.files[k + 2];
    if (steps < 0 && before === undefined) return;
    editor.edit((s) => moveFile(s, chosen, row.place, before ?? null));
  };
  const carry = (steps: number): void => {
    const to = rows[at + steps];
    if (to && chosen !== null) editor.edit((s) => moveFile(s, chosen, to.place));
  };
  const commands = bindCommands(SORT_COMMANDS, {
    next: () => walk(1),
    previous: () => walk(-1),
    below: () => hop(1),
    above: () => hop(-1),
    later: () => shift(1),
    earlier: () => shift(-1),
    carryDown: () => carry(1),
    carryUp: () => carry(-1),
    undo: () => editor.undo(),
    leaveOut: () => {
      if (row && chosen !== null && typeof row.place === 'object')
        editor.edit((s) => toggleLeftOut(s, row.key, chosen));
    },
    split: () => {
      if (row && chosen !== null && typeof row.place === 'object')
        editor.edit((s) => splitSet(s, row.key, chosen, newId()));
    },
    newSet: () => {
      if (chosen !== null) editor.edit((s) => newSetOf(s, chosen, newId()));
    },
  });
  useCommandKeys(commands);
}
