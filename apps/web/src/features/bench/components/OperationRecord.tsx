// The record of a repair: what was done, in the order in which it acts; each can be switched off, found again and taken out.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import type { Operation, OperationChange } from '@blendrak/contract';
import { isEvening, isInvented, operationRegion, pullLength } from '@blendrak/core/repair';
import { GREY, MONO } from '../../../app/theme';
import { LongList } from '../../../shared/LongList';
import type { BenchMerge } from '../../../shared/queries';
import type { PictureRegion } from '../../../viewer/camera';
import { donorName } from '../donors';
import { useInForce } from '../hooks/useLayers';
import { placePicture } from '../placePicture';
import { OperationMenu } from './OperationMenu';

const ROW_PX = 44;
const PICTURE_PX = 36;

export interface RecordActions {
  /** @returns the change's name, which is that of an operation that is added */
  ask(change: OperationChange): string;
  /** Lays the mask of an operation to edges so near its rim. */
  snap(operationId: string, reachPx: number): void;
  travelTo(region: PictureRegion): void;
}

interface RecordProps {
  readonly merge: BenchMerge;
  /** With what is on its way done. */
  readonly operations: readonly Operation[];
  readonly actions: RecordActions;
}

export function OperationRecord({ merge, operations, actions }: RecordProps) {
  if (operations.length === 0) return null;
  // What was done last stands first, where one looks for it.
  const newest = operations.toReversed();
  return (
    <Box
      sx={{
        borderTop: `1px solid ${GREY.rule}`,
        pt: 1,
        display: 'flex',
        flexDirection: 'column',
        minHeight: 160,
        flex: 1,
      }}
    >
      <Typography variant="h3" sx={{ pb: 0.5 }}>
        What was done, the last first
      </Typography>
      <LongList
        label="Operations"
        count={newest.length}
        rowPx={ROW_PX}
        keyOf={(k) => newest[k]!.id}
        row={(k) => <Row {...{ merge, operations, actions }} at={operations.length - 1 - k} />}
      />
    </Box>
  );
}

/** An operation in a few words: what is painted in, and over how much. */
export function operationTitle(merge: Pick<BenchMerge, 'frames' | 'sources'>, operation: Operation): string {
  const { name, donor, also, pull } = operation;
  if (name !== '') return name;
  if (isInvented(operation)) return 'filled (invented)';
  if (isEvening(operation)) return 'tone evened';
  if (pull) return `pulled ${pullLength(pull).toFixed(1)} px`;
  if (also) return `${also.length + 1} parts`;
  return donor === null ? 'taken back' : donorName(merge, donor);
}

/** Does an operation once more, with its mask as it is now: to be changed from there. */
function double({ kind, donor, shape, shift, tone, pull, also, mask }: Operation, { ask }: RecordActions): void {
  const operationId = ask({ kind: 'add', operation: { kind, donor, shape, shift, tone, pull, also } });
  if (mask) ask({ kind: 'patch', operationId, patch: { mask } });
}

interface RowProps extends RecordProps {
  readonly at: number;
}

function Row({ merge, operations, at, actions }: RowProps) {
  const operation = operations[at]!;
  const { id: operationId, enabled } = operation;
  const region = operationRegion(operation);
  const title = operationTitle(merge, operation);
  const inForce = useInForce(merge);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', height: ROW_PX, borderBottom: `1px solid ${GREY.rule}` }}>
      <Switch
        size="small"
        color="secondary"
        checked={enabled}
        slotProps={{ input: { 'aria-label': `${title} acts` } }}
        onChange={() => actions.ask({ kind: 'patch', operationId, patch: { enabled: !enabled } })}
      />
      <ButtonBase
        onClick={() => actions.travelTo(region)}
        aria-label={`Go to ${title}`}
        sx={{
          flex: 1,
          minWidth: 0,
          gap: 0.75,
          justifyContent: 'flex-start',
          textAlign: 'left',
          opacity: enabled ? 1 : 0.65,
        }}
      >
        <img
          src={placePicture(merge, inForce, region, 2 * PICTURE_PX)}
          alt=""
          width={PICTURE_PX}
          height={PICTURE_PX}
          loading="lazy"
          style={{ background: '#777', flex: 'none' }}
        />
        <Box sx={{ minWidth: 0 }}>
          <Typography noWrap sx={{ fontSize: 12 }}>
            {title}
          </Typography>
          <Typography noWrap sx={{ fontSize: 10.5, color: GREY.quiet, fontFamily: MONO }}>
            {Math.round(region.width)} × {Math.round(region.height)} px
          </Typography>
        </Box>
      </ButtonBase>
      <OperationMenu
        {...{ merge, title, operation }}
        earlier={operations.slice(Math.max(0, at - 2), at).toReversed()}
        later={operations.slice(at + 1, at + 3)}
        onPatch={(patch) => actions.ask({ kind: 'patch', operationId, patch })}
        onDouble={() => double(operation, actions)}
        onSnap={(reachPx) => actions.snap(operationId, reachPx)}
        onRemove={() => actions.ask({ kind: 'remove', operationId })}
      />
    </Box>
  );
}
