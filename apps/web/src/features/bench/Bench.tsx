// The bench with a merge on it.
import Box from '@mui/material/Box';
import { useSnackbar } from 'notistack';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import { GREY } from '../../app/theme';
import type { PaintedMerge } from '../../shared/queries';
import { useCommandKeys } from '../../shared/commands/useCommandKeys';
import { useDoneElsewhere } from '../../shared/useServerNews';
import { clearPreview } from '../../viewer/livePreview';
import { COMMANDS, type CommandId } from './commands';
import { BrushBar } from './components/BrushBar';
import { BrushCursor } from './components/BrushCursor';
import { FindingCard } from './components/FindingCard';
import { FindingQueue } from './components/FindingQueue';
import { LookBar } from './components/LookBar';
import { ShortcutSheet } from './components/ShortcutSheet';
import { TraceStrip } from './components/TraceStrip';
import { useDeepView } from './hooks/useDeepView';
import { useKeptStrokes } from './hooks/useKeptStrokes';
import { usePainter } from './hooks/usePainter';
import { useStrokeSender } from './hooks/useStrokeSender';
import { useUndo } from './hooks/useUndo';
import { useBench } from './store';

const SIZE_STEP = 1.2;

function resize(factor: number): void {
  const { brush, set } = useBench.getState();
  set({ brush: { ...brush, sizePx: Math.round(Math.min(600, Math.max(4, brush.sizePx * factor))) } });
}

/** Alt and the wheel change the brush while one is in hand. */
function resizeByWheel(event: WheelEvent): void {
  if (!event.altKey || useBench.getState().donor === null) return;
  event.stopPropagation();
  resize(event.deltaY > 0 ? 1 / SIZE_STEP : SIZE_STEP);
}

export function Bench({ merge }: { merge: PaintedMerge }) {
  const host = useRef<HTMLDivElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  const [help, setHelp] = useState(false);
  const openFinding = useBench((s) => s.openFinding);
  const donor = useBench((s) => s.donor);
  const set = useBench((s) => s.set);
  const takeDonor = useBench((s) => s.takeDonor);
  const deep = useDeepView(host, merge);
  usePainter(host, deep, merge);
  const complain = useCallback((words: string) => enqueueSnackbar(words, { variant: 'error' }), [enqueueSnackbar]);
  const refused = useCallback(
    (words: string) => {
      complain(words);
      // What the server will not take must not look as if it were painted.
      if (deep) clearPreview(deep);
    },
    [complain, deep],
  );
  useKeptStrokes(complain);
  const saving = useStrokeSender(merge.id, refused);
  useDoneElsewhere(merge.id, enqueueSnackbar);
  const finding = merge.findings.find((f) => f.id === openFinding) ?? null;

  // Everything of the last merge is put away.
  useEffect(
    () => set({ openFinding: null, donor: null, look: { kind: 'repaired' }, peek: null, pointer: null, place: null }),
    [set, merge.id],
  );

  const open = useCallback(
    (id: string) => {
      const next = merge.findings.find((f) => f.id === id);
      if (!next) return;
      set({ openFinding: id, look: { kind: 'repaired' }, pointer: null, place: null });
      deep?.travelTo(next.bbox, 1 / window.devicePixelRatio);
    },
    [deep, merge.findings, set],
  );
  const step = useCallback(
    (by: 1 | -1) => {
      const list = merge.findings.filter((f) => f.decision === 'open' || f.id === openFinding);
      if (list.length === 0) return;
      const at = list.findIndex((f) => f.id === openFinding);
      open(list[(at + by + list.length) % list.length]!.id);
    },
    [merge.findings, open, openFinding],
  );
  const travel = useUndo(merge.id, deep, complain);

  const actions = useMemo(
    (): Record<CommandId, (pressed: boolean) => void> => ({
      next: () => step(1),
      previous: () => step(-1),
      takeDonor: () => {
        if (finding && finding.donor !== null) takeDonor(finding.donor);
      },
      dropBrush: () => set({ donor: null }),
      undo: () => travel('undo'),
      redo: () => travel('redo'),
      before: (pressed) => set({ peek: pressed ? { kind: 'before' } : null }),
      donorLook: (pressed) => {
        const frame = donor ?? finding?.donor ?? 0;
        set({ peek: pressed ? { kind: 'frame', frame } : null });
      },
      marks: () => set({ showMarks: !useBench.getState().showMarks }),
      provenance: () => set({ showProvenance: !useBench.getState().showProvenance }),
      smaller: () => resize(1 / SIZE_STEP),
      larger: () => resize(SIZE_STEP),
      closer: () => deep?.zoomBy(1.5),
      further: () => deep?.zoomBy(1 / 1.5),
      fit: () => deep?.fit(),
      sheet: () => setHelp(true),
    }),
    [deep, donor, finding, set, step, takeDonor, travel],
  );
  useCommandKeys(COMMANDS, actions, !help);

  const follow = (event: PointerEvent): void => {
    if (!deep || !host.current) return;
    const view = deep.view();
    const box = host.current.getBoundingClientRect();
    const x = view.originX + (event.clientX - box.left) / view.zoom;
    const y = view.originY + (event.clientY - box.top) / view.zoom;
    const inside = x >= 0 && y >= 0 && x < merge.width && y < merge.height;
    set({ pointer: inside ? { x, y } : null });
  };
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <FindingQueue merge={merge} onOpen={open} />
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        <LookBar merge={merge} deep={deep} onHelp={() => setHelp(true)} />
        <Box
          sx={{ flex: 1, minHeight: 0, position: 'relative', bgcolor: '#777', overflow: 'hidden' }}
          onPointerMove={follow}
          onPointerLeave={() => set({ pointer: null })}
          onWheelCapture={resizeByWheel}
        >
          <Box
            ref={host}
            role="application"
            aria-label="Picture"
            sx={{ position: 'absolute', inset: 0, cursor: donor === null ? 'default' : 'none', touchAction: 'none' }}
          />
          {donor !== null && <BrushCursor deep={deep} />}
        </Box>
        <Box sx={{ borderTop: `1px solid ${GREY.rule}`, flex: 'none', minHeight: 178 }}>
          <BrushBar merge={merge} saving={saving} onUndo={() => travel('undo')} onRedo={() => travel('redo')} />
          <TraceStrip merge={merge} fallback={finding ? middleOf(finding.bbox) : null} />
        </Box>
      </Box>
      <FindingCard merge={merge} finding={finding} />
      <ShortcutSheet open={help} onClose={() => setHelp(false)} />
    </Box>
  );
}

function middleOf(box: { x: number; y: number; width: number; height: number }): { x: number; y: number } {
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}
