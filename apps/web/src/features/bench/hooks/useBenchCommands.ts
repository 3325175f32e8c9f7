// What the bench's commands do as things stand.
import { useMemo } from 'react';
import type { Finding } from '@blendrak/contract';
import { showing, toPicture } from '../../../viewer/camera';
import type { DeepView } from '../../../viewer/deepView';
import type { BenchMerge } from '../../../shared/queries';
import { bindCommands, type Action, type Command } from '../../../shared/commands/keys';
import { resizeBrush } from '../brushSize';
import { COMMANDS, type OwnCommandId } from '../commands';
import { LOOKS } from '../looks';
import { useBench } from '../store';
import { TOOLS } from '../tools';
import type { Foreseen } from '../operations/foresee';

interface Doings {
  readonly merge: BenchMerge;
  readonly deep: DeepView | null;
  readonly foreseen: Foreseen;
  open(findingId: string): void;
  undo(): void;
  redo(): void;
  showSheet(): void;
  /** Travels to the next part that was not looked at. */
  sweepOn(): void;
  /** Keeps the repair that is proposed for a finding, or has one worked out. */
  mend(finding: Finding): void;
}

export function useBenchCommands(doings: Doings): Readonly<Record<string, Command>> {
  const { merge, deep, foreseen, open, undo, redo, showSheet, sweepOn, mend } = doings;
  const { findings, maps } = merge;
  const openFinding = useBench((s) => s.openFinding);
  const openPin = useBench((s) => s.openPin);
  const donor = useBench((s) => s.donor);
  const tool = useBench((s) => s.tool);
  // Only whether there is anything: the commands stay the same ones from stroke to stroke.
  // While changes are on their way what can be taken back is a guess: the server knows, and does nothing where there is nothing.
  const isSending = useBench((s) => s.unsent.some((change) => change.mergeId === merge.id));
  const [canUndo, canRedo] = [isSending || foreseen.undoable > 0, isSending || foreseen.redoable > 0];
  return useMemo(() => {
    const { set, takeDonor, takeTool, layOut } = useBench.getState();
    const finding = findings.find((f) => f.id === openFinding) ?? null;
    const toSettle = findings.filter((f) => f.decision === 'open' || f.id === openFinding);
    const step = (by: 1 | -1): Action => ({
      isEnabled: toSettle.length > 0,
      run: () => {
        const at = toSettle.findIndex((f) => f.id === openFinding);
        // From nowhere, the next one is the first and the one before is the last.
        const from = at < 0 && by < 0 ? 0 : at;
        open(toSettle[(from + by + toSettle.length) % toSettle.length]!.id);
      },
    });
    const frame = donor ?? finding?.donor ?? 0;
    const own: Record<OwnCommandId, Action> = {
      next: step(1),
      previous: step(-1),
      mend: {
        isEnabled: finding !== null && finding.donor !== null && finding.decision === 'open',
        run: () => mend(finding!),
      },
      takeDonor: {
        isEnabled: finding !== null && finding.donor !== null,
        run: () => takeDonor(finding!.donor),
      },
      putAway: {
        isEnabled: tool !== null || openPin !== null,
        run: () => (tool !== null ? takeTool(null) : set({ openPin: null })),
      },
      undo: { isEnabled: canUndo, run: undo },
      redo: { isEnabled: canRedo, run: redo },
      marks: () => set({ showMarks: !useBench.getState().showMarks }),
      provenance: () => set({ showProvenance: !useBench.getState().showProvenance }),
      smaller: () => resizeBrush('smaller'),
      larger: () => resizeBrush('larger'),
      closer: () => deep?.zoomBy(1.5),
      further: () => deep?.zoomBy(1 / 1.5),
      fit: () => deep?.fit(),
      full: () => {
        if (!deep) return;
        const camera = deep.camera('aim');
        const { x, y } = toPicture(camera, { x: camera.width / 2, y: camera.height / 2 });
        deep.setCamera(showing(camera, { x, y, width: 1, height: 1 }, 1 / window.devicePixelRatio));
      },
      sweep: sweepOn,
      card: () => layOut({ isCardOpen: !useBench.getState().layout.isCardOpen }),
      sheet: showSheet,
    };
    const tools = TOOLS.map(({ id, isReady }): [string, Action] => {
      const run = (): void => {
        // Without a frame in hand the one in question is taken.
        if (!isReady({ donor })) takeDonor(frame);
        takeTool(id);
      };
      return [`tool-${id}`, { isEnabled: isReady({ donor: frame }), run }];
    });
    const looks = LOOKS.flatMap(({ id, map }): [string, Action][] => {
      const isEnabled = !map || maps.includes(map);
      return [
        [`peek-${id}`, { isEnabled, run: (pressed) => set({ peek: pressed ? { id, frame } : null }) }],
        [`look-${id}`, { isEnabled, run: () => set({ look: { id, frame } }) }],
      ];
    });
    return bindCommands(COMMANDS, Object.fromEntries([...Object.entries(own), ...tools, ...looks]));
  }, [
    canRedo,
    canUndo,
    deep,
    donor,
    findings,
    maps,
    mend,
    open,
    openFinding,
    openPin,
    redo,
    showSheet,
    sweepOn,
    tool,
    undo,
  ]);
}
