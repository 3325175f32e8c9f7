// The card at the side: the open finding, else the open pin, else the merge as a whole.
import type { ReactNode } from 'react';
import type { Finding, Operation, Pin, ViewingSettings } from '@blendrak/contract';
import type { Command } from '../../../shared/commands/keys';
import type { BenchMerge } from '../../../shared/queries';
import { PinCard } from '../pins/PinCard';
import { PIN_NAMES } from '../pins/readingWords';
import type { Proposing } from '../proposals/useProposals';
import { useBench } from '../store';
import type { Sweeping } from '../sweep/sweeping';
import { FindingCard } from './FindingCard';
import type { RecordActions } from './OperationRecord';
import { Overview } from './Overview';
import type { HeldBack } from '../../../shared/viewing/judge';

interface SideCardProps {
  readonly merge: BenchMerge;
  readonly finding: Finding | null;
  readonly pins: readonly Pin[];
  readonly viewing: ViewingSettings;
  readonly heldBack: HeldBack;
  /** Of the merge's operations. */
  readonly revision: number;
  readonly sweeping: Sweeping;
  /** What has been done, with what is on its way. */
  readonly operations: readonly Operation[];
  readonly actions: RecordActions;
  readonly commands: Readonly<Record<string, Command>>;
  readonly proposing: Proposing;
  onRemovePin(pin: Pin): void;
  onOpen(findingId: string): void;
}

export function SideCard(props: SideCardProps) {
  const { merge, finding, pins, revision, sweeping, operations, actions, commands, onRemovePin } = props;
  const { viewing, heldBack, proposing, onOpen } = props;
  const openPin = useBench((s) => s.openPin);
  const pin = finding ? undefined : pins.find((p) => p.id === openPin);
  // One thing or nothing: while a finding is open its card is not rendered anew with every stroke.
  const instead = (): ReactNode => {
    if (finding) return null;
    if (pin) return <PinCard merge={merge} pin={pin} isOld={pin.revision < revision} onRemove={onRemovePin} />;
    const shown = { merge, pins, sweeping, operations, actions, viewing, heldBack, proposing, onOpen };
    return <Overview {...shown} nextUnseen={commands['sweep']!} />;
  };
  return (
    <FindingCard
      {...{ merge, finding, viewing, proposing }}
      fold={commands['card']!}
      title={pin ? PIN_NAMES[pin.kind] : 'The merge'}
    >
      {instead()}
    </FindingCard>
  );
}
