// The bench with a merge on it.
import Box from '@mui/material/Box';
import { useSnackbar } from 'notistack';
import { useCallback, useLayoutEffect, useMemo, useRef, useState, type ComponentProps, type RefObject } from 'react';
import type { Finding, ViewingSettings } from '@blendrak/contract';
import { showing, type PictureRegion } from '../../viewer/camera';
import type { BenchMerge, OperationList } from '../../shared/queries';
import { useCommandKeys } from '../../shared/commands/useCommandKeys';
import { useDoneElsewhere } from '../../shared/useServerNews';
import { FindingQueue } from './components/FindingQueue';
import { FollowingPane } from './components/FollowingPane';
import { NamingOutline } from './components/NamingOutline';
import { LookBar } from './components/LookBar';
import { PartingLine } from './components/PartingLine';
import { ShortcutSheet } from './components/ShortcutSheet';
import { SideCard } from './components/SideCard';
import { StripHandle } from './components/StripHandle';
import { ToolBar } from './components/ToolBar';
import { TraceStrip } from './components/TraceStrip';
import { useBenchCommands } from './hooks/useBenchCommands';
import { useInForce, useLayers } from './hooks/useLayers';
import { useMarks } from './hooks/useMarks';
import { usePicturePointer } from './hooks/usePicturePointer';
import { usePreview } from './hooks/usePreview';
import { useToolWork, type ToolOutlets } from './hooks/useToolWork';
import type { DeepView } from '../../viewer/deepView';
import { useView } from '../../viewer/useView';
import { createHover } from './hover';
import { useLook } from './hooks/useLook';
import { showsRepair, type LookLayer } from './looks';
import { usePins, usePinWork } from './pins/usePins';
import { useProposals, useProposed } from './proposals/useProposals';
import { useSweep } from './sweep/useSweep';
import { useForeseen, useIsWorking, useOutbox, useSaving, type OutboxOf } from './operations/useOutbox';
import { useBench } from './store';
import type { HeldBack } from '../../shared/viewing/judge';

interface BenchProps {
  readonly merge: BenchMerge;
  readonly list: OperationList;
  /** How the picture will be looked at, by which its findings are judged. */
  readonly viewing: ViewingSettings;
  /** Findings that are not seen so. */
  readonly heldBack: HeldBack;
}

export function Bench({ merge, list, viewing, heldBack }: BenchProps) {
  const host = useRef<HTMLDivElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  const [help, setHelp] = useState(false);
  const openFinding = useBench((s) => s.openFinding);
  const tool = useBench((s) => s.tool);
  const set = useBench((s) => s.set);
  const [hover] = useState(createHover);
  const deep = useView(host);

  const look = useBench((s) => s.peek ?? s.look);
  const { panes, isParted } = useLook(merge, look, deep);
  const pane = panes.at(-1)!;
  const inForce = useInForce(merge);
  useMarks(deep, merge);

  const complain = useCallback((words: string) => enqueueSnackbar(words, { variant: 'error' }), [enqueueSnackbar]);
  const proposing = useProposals(merge, complain);
  const proposal = proposing.proposals.find((p) => p.findingId === openFinding);
  const proposed = useProposed(proposal);
  const sight = useMemo(() => ({ inForce, proposed }), [inForce, proposed]);
  useLayers(deep, merge, pane, sight);
  const { ask, give } = useOutbox(merge.id, complain);
  const isWorking = useIsWorking(merge.id);
  const foreseen = useForeseen(merge.id, list);
  const preview = usePreview(deep, merge, inForce, foreseen.operations, showsRepair(pane));
  const pins = usePins(merge.id);
  const pinWork = usePinWork(merge, complain);
  const { measure } = pinWork;
  const onMask = useCallback((donor: number, file: File) => give({ kind: 'mask', donor, file }), [give]);
  const outlets = useOutlets({ ask, give, measure, complain });
  const work = useToolWork(preview, merge, outlets);
  const { sweeping, next: sweepOn } = useSweep(deep, merge, pane.layers.every(isOfMerge));
  usePicturePointer(host, deep, hover, work, merge);
  const saving = useSaving(merge.id);
  useDoneElsewhere(merge.id, enqueueSnackbar);

  usePutAway(merge.id);
  const open = useCallback(
    (id: string) => {
      const next = merge.findings.find((f) => f.id === id);
      if (!next) return;
      const { look: base } = useBench.getState();
      set({
        openFinding: id,
        openPin: null,
        look: { ...base, id: 'repaired', frame: next.donor ?? base.frame },
        place: null,
      });
      deep?.setCamera(showing(deep.camera('aim'), next.bbox, 1 / window.devicePixelRatio));
    },
    [deep, merge.findings, set],
  );
  const undo = useCallback(() => void ask({ kind: 'undo' }), [ask]);
  const redo = useCallback(() => void ask({ kind: 'redo' }), [ask]);
  const actions = useMemo(
    () => ({
      ask,
      snap: (operationId: string, reachPx: number) => give({ kind: 'snap', operationId, reachPx }),
      travelTo: (region: PictureRegion) =>
        deep?.setCamera(showing(deep.camera('aim'), region, 1 / window.devicePixelRatio)),
    }),
    [ask, deep, give],
  );
  const { choose, workOut } = proposing;
  // With one key: what is proposed is kept, and where nothing is yet it is worked out.
  const mend = useCallback(
    (finding: Finding) => (proposed ? choose({ keep: [proposed.id] }) : workOut({ findingId: finding.id })),
    [choose, proposed, workOut],
  );
  const showSheet = useCallback(() => setHelp(true), []);
  const commands = useBenchCommands({ merge, deep, foreseen, open, undo, redo, showSheet, sweepOn, mend });
  useCommandKeys(commands, !help);

  const finding = merge.findings.find((f) => f.id === openFinding) ?? null;
  const fallback = useMemo(() => (finding ? middleOf(finding.bbox) : null), [finding]);
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <FindingQueue merge={merge} inForce={inForce} onOpen={open} />
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        <LookBar {...{ merge, deep, hover, commands, onMask }} />
        <Panes {...{ merge, host, deep, panes, isParted, sight }} isPointed={tool === null} />
        <Box sx={{ flex: 'none' }}>
          <StripHandle />
          <ToolBar merge={merge} foreseen={foreseen} {...{ saving, isWorking, commands }} />
          <TraceStrip merge={merge} fallback={fallback} />
        </Box>
      </Box>
      <SideCard
        {...{ merge, finding, pins, sweeping, actions, commands, viewing, heldBack }}
        revision={list.revision}
        operations={foreseen.operations}
        onRemovePin={pinWork.remove}
        {...{ proposing, onOpen: open }}
      />
      <NamingOutline merge={merge} />
      <ShortcutSheet open={help} onClose={() => setHelp(false)} />
    </Box>
  );
}

interface Takers {
  readonly ask: ToolOutlets['change'];
  readonly give: OutboxOf['give'];
  readonly measure: ReturnType<typeof usePinWork>['measure'];
  complain(words: string): void;
}

/** Where what a tool drew goes: into the record, to the instruments, to the server, or to be named. */
function useOutlets({ ask, give, measure, complain }: Takers): ToolOutlets {
  const set = useBench((s) => s.set);
  return useMemo(
    () => ({
      change: ask,
      look(outcome) {
        if (outcome.kind === 'measure') measure(outcome.pin);
        else if (outcome.kind === 'order') give(outcome.order);
        else set({ outlined: outcome.polygon });
      },
      tooSmall: (hint) => complain(`Too small to tell anything. ${hint}.`),
    }),
    [ask, complain, give, measure, set],
  );
}

/** Everything of the last merge is put away, before anybody can take something up: a click would come before an effect. */
function usePutAway(mergeId: string): void {
  const set = useBench((s) => s.set);
  useLayoutEffect(
    () =>
      set({
        ...{ openFinding: null, openPin: null, outlined: null, tool: null, donor: null, peek: null, place: null },
        look: { id: 'repaired', frame: 0 },
      }),
    [set, mergeId],
  );
}

interface PanesProps {
  readonly merge: BenchMerge;
  readonly host: RefObject<HTMLDivElement | null>;
  readonly deep: DeepView | null;
  readonly panes: ReturnType<typeof useLook>['panes'];
  readonly isParted: boolean;
  readonly sight: ComponentProps<typeof FollowingPane>['sight'];
  /** Whether the pointer shows as one: a tool draws its own. */
  readonly isPointed: boolean;
}

/** The picture as the look has it: alone, parted, or beside others that follow it. */
function Panes({ merge, host, deep, panes, isParted, sight, isPointed }: PanesProps) {
  return (
    <Box
      sx={{
        flex: 1,
        minHeight: 0,
        display: 'grid',
        gridTemplateColumns: `repeat(${Math.min(2, panes.length)}, minmax(0, 1fr))`,
        gridAutoRows: 'minmax(0, 1fr)',
        bgcolor: '#777',
      }}
    >
      {panes.slice(0, -1).map((other, k) => (
        <FollowingPane key={k} merge={merge} pane={other} sight={sight} leader={deep} />
      ))}
      <Box sx={{ minWidth: 0, position: 'relative', overflow: 'hidden' }}>
        <Box
          ref={host}
          role="application"
          aria-label="Picture"
          tabIndex={0}
          sx={{
            position: 'absolute',
            inset: 0,
            cursor: isPointed ? 'default' : 'none',
            touchAction: 'none',
            '&:focus-visible': { outlineOffset: '-3px' },
          }}
        />
        {isParted && <PartingLine deep={deep} width={merge.width} />}
      </Box>
    </Box>
  );
}

/** Whether a layer shows the merge: only then it is looked at. */
function isOfMerge({ of, composite }: LookLayer): boolean {
  return composite === undefined && (of === 'repaired' || of === 'before');
}

function middleOf(box: PictureRegion): { x: number; y: number } {
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}
