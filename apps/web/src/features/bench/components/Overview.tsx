// The card while no finding is open: the merge at a glance, what can be repaired by itself, what was measured, what was not looked at, and what was done.
import Box from '@mui/material/Box';
import { memo } from 'react';
import type { Operation, Pin, ViewingSettings } from '@blendrak/contract';
import type { Command } from '../../../shared/commands/keys';
import type { BenchMerge } from '../../../shared/queries';
import { PinList } from '../pins/PinList';
import { MendPanel } from '../proposals/MendPanel';
import type { Proposing } from '../proposals/useProposals';
import { SweepMap } from '../sweep/SweepMap';
import type { Sweeping } from '../sweep/sweeping';
import { useBench } from '../store';
import { ViewingForm } from '../viewing/ViewingForm';
import { LeftBehind } from './LeftBehind';
import { MergeAtAGlance } from './MergeAtAGlance';
import { OperationRecord, type RecordActions } from './OperationRecord';
import type { HeldBack } from '../../../shared/viewing/judge';

interface OverviewProps {
  readonly merge: BenchMerge;
  readonly pins: readonly Pin[];
  readonly viewing: ViewingSettings;
  readonly heldBack: HeldBack;
  readonly sweeping: Sweeping;
  readonly nextUnseen: Command;
  /** What has been done, with what is on its way. */
  readonly operations: readonly Operation[];
  readonly actions: RecordActions;
  readonly proposing: Proposing;
  onOpen(findingId: string): void;
}

/** Rendered anew only when what it shows has changed. */
export const Overview = memo(function Overview(props: OverviewProps) {
  const { merge, pins, sweeping, nextUnseen, operations, actions, viewing, heldBack, proposing } = props;
  const open = ({ id, from, to }: Pin): void => {
    useBench.getState().set({ openPin: id });
    const [x, y] = [Math.min(from[0], to[0]), Math.min(from[1], to[1])];
    actions.travelTo({ x, y, width: Math.abs(from[0] - to[0]) + 1, height: Math.abs(from[1] - to[1]) + 1 });
  };
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, minHeight: '100%' }}>
      <MergeAtAGlance merge={merge} />
      <MendPanel merge={merge} proposing={proposing} onOpen={props.onOpen} />
      <ViewingForm merge={merge} settings={viewing} heldBack={heldBack} />
      <PinList merge={merge} pins={pins} onOpen={open} />
      <LeftBehind merge={merge} />
      <OperationRecord merge={merge} operations={operations} actions={actions} />
      <SweepMap merge={merge} sweeping={sweeping} next={nextUnseen} onTravel={actions.travelTo} />
    </Box>
  );
});
