// The bench with a merge on it.
import Box from '@mui/material/Box';
import { useSnackbar } from 'notistack';
import { useCallback, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Operation, OperationChange } from '@blendrak/contract';
import { showing, type PictureRegion } from '../../viewer/camera';
import type { BenchMerge, OperationList } from '../../shared/queries';
import { useCommandKeys } from '../../shared/commands/useCommandKeys';
import { useDoneElsewhere } from '../../shared/useServerNews';
import { FindingCard } from './components/FindingCard';
import { FindingQueue } from './components/FindingQueue';
import { FollowingPane } from './components/FollowingPane';
import { LookBar } from './components/LookBar';
import { ShortcutSheet } from './components/ShortcutSheet';
import { StripHandle } from './components/StripHandle';
import { ToolBar } from './components/ToolBar';
import { TraceStrip } from './components/TraceStrip';
import { useBenchCommands } from './hooks/useBenchCommands';
import { useInForce, useLayers } from './hooks/useLayers';
import { useMarks } from './hooks/useMarks';
import { usePicturePointer } from './hooks/usePicturePointer';
import { usePreview } from './hooks/usePreview';
import { useToolWork } from './hooks/useToolWork';
import { useView } from './hooks/useView';
import { createHover } from './hover';
import { lookOf } from './looks';
import { foresee } from './operations/foresee';
import { useOutbox, useSaving } from './operations/useOutbox';
import { useBench } from './store';

/** While a finding is open its card takes the record's place. */
const NO_OPERATIONS: readonly Operation[] = [];

export function Bench({ merge, list }: { merge: BenchMerge; list: OperationList }) {
  const host = useRef<HTMLDivElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  const [help, setHelp] = useState(false);
  const openFinding = useBench((s) => s.openFinding);
  const tool = useBench((s) => s.tool);
  const set = useBench((s) => s.set);
  const [hover] = useState(createHover);
  const deep = useView(host);

  const look = useBench((s) => s.peek ?? s.look);
  const panes = useMemo(() => lookOf(look.id).panes(merge, look.frame), [look, merge]);
  const pane = panes.at(-1)!;
  const inForce = useInForce(merge);
  useLayers(deep, merge, pane, inForce);
  useMarks(deep, merge);

  const complain = useCallback((words: string) => enqueueSnackbar(words, { variant: 'error' }), [enqueueSnackbar]);
  const ask = useOutbox(merge.id, complain);
  const unsent = useBench((s) => s.unsent);
  const foreseen = useMemo(
    () =>
      foresee(
        list,
        unsent.filter((c) => c.mergeId === merge.id),
      ),
    [list, merge.id, unsent],
  );
  const isRepairedShown = pane.layers.some((layer) => layer.of === 'repaired');
  const preview = usePreview(deep, merge, inForce, foreseen.operations, isRepairedShown);
  const work = useToolWork(preview, ask);
  usePicturePointer(host, deep, hover, work, merge);
  const saving = useSaving(merge.id);
  useDoneElsewhere(merge.id, enqueueSnackbar);

  // Everything of the last merge is put away, before anybody can take something up: a click would come before an effect.
  useLayoutEffect(
    () =>
      set({ openFinding: null, tool: null, donor: null, look: { id: 'repaired', frame: 0 }, peek: null, place: null }),
    [set, merge.id],
  );

  const open = useCallback(
    (id: string) => {
      const next = merge.findings.find((f) => f.id === id);
      if (!next) return;
      const { look: base } = useBench.getState();
      set({ openFinding: id, look: { ...base, id: 'repaired', frame: next.donor ?? base.frame }, place: null });
      deep?.setCamera(showing(deep.camera('aim'), next.bbox, 1 / window.devicePixelRatio));
    },
    [deep, merge.findings, set],
  );
  const undo = useCallback(() => void ask({ kind: 'undo' }), [ask]);
  const redo = useCallback(() => void ask({ kind: 'redo' }), [ask]);
  const actions = useMemo(
    () => ({
      ask: (change: OperationChange) => void ask(change),
      travelTo: (region: PictureRegion) =>
        deep?.setCamera(showing(deep.camera('aim'), region, 1 / window.devicePixelRatio)),
    }),
    [ask, deep],
  );
  const showSheet = useCallback(() => setHelp(true), []);
  const commands = useBenchCommands({ merge, deep, foreseen, open, undo, redo, showSheet });
  useCommandKeys(commands, !help);

  const finding = merge.findings.find((f) => f.id === openFinding) ?? null;
  const fallback = useMemo(() => (finding ? middleOf(finding.bbox) : null), [finding]);
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <FindingQueue merge={merge} inForce={inForce} onOpen={open} />
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        <LookBar merge={merge} deep={deep} hover={hover} commands={commands} />
        <Box sx={{ flex: 1, minHeight: 0, display: 'flex', bgcolor: '#777' }}>
          {panes.slice(0, -1).map((other, k) => (
            <FollowingPane key={k} merge={merge} pane={other} inForce={inForce} leader={deep} />
          ))}
          <Box sx={{ flex: 1, minWidth: 0, position: 'relative', overflow: 'hidden' }}>
            <Box
              ref={host}
              role="application"
              aria-label="Picture"
              tabIndex={0}
              sx={{
                position: 'absolute',
                inset: 0,
                cursor: tool === null ? 'default' : 'none',
                touchAction: 'none',
                '&:focus-visible': { outlineOffset: '-3px' },
              }}
            />
          </Box>
        </Box>
        <Box sx={{ flex: 'none' }}>
          <StripHandle />
          <ToolBar merge={merge} foreseen={foreseen} saving={saving} commands={commands} />
          <TraceStrip merge={merge} fallback={fallback} />
        </Box>
      </Box>
      <FindingCard
        merge={merge}
        finding={finding}
        fold={commands['card']!}
        operations={finding ? NO_OPERATIONS : foreseen.operations}
        actions={actions}
      />
      <ShortcutSheet open={help} onClose={() => setHelp(false)} />
    </Box>
  );
}

function middleOf(box: PictureRegion): { x: number; y: number } {
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}
