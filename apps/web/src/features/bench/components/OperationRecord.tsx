// The record of a repair: what was done, in the order in which it acts; each can be switched off, found again and taken out.
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Delete from '@mui/icons-material/DeleteOutlined';
import IconButton from '@mui/material/IconButton';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import type { Operation, OperationChange } from '@blendrak/contract';
import { shapeRegion } from '@blendrak/core/repair';
import { GREY, MONO } from '../../../app/theme';
import { LongList } from '../../../shared/LongList';
import type { BenchMerge } from '../../../shared/queries';
import type { PictureRegion } from '../../../viewer/camera';

const ROW_PX = 44;

export interface RecordActions {
  ask(change: OperationChange): void;
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
        row={(k) => <Row merge={merge} operation={newest[k]!} actions={actions} />}
      />
    </Box>
  );
}

/** An operation in a few words: what is painted in, and over how much. */
export function operationTitle({ frames }: Pick<BenchMerge, 'frames'>, { name, donor }: Operation): string {
  if (name !== '') return name;
  return donor === null ? 'taken back' : (frames[donor]?.fileName ?? `frame ${donor + 1}`);
}

function Row({ merge, operation, actions }: { merge: BenchMerge; operation: Operation; actions: RecordActions }) {
  const { id: operationId, enabled } = operation;
  const region = shapeRegion(operation.shape);
  const title = operationTitle(merge, operation);
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
        sx={{ flex: 1, minWidth: 0, display: 'block', textAlign: 'left', opacity: enabled ? 1 : 0.65 }}
      >
        <Typography noWrap sx={{ fontSize: 12 }}>
          {title}
        </Typography>
        <Typography noWrap sx={{ fontSize: 10.5, color: GREY.quiet, fontFamily: MONO }}>
          {region.width} × {region.height} px
        </Typography>
      </ButtonBase>
      <IconButton
        size="small"
        aria-label={`Take out ${title}`}
        onClick={() => actions.ask({ kind: 'remove', operationId })}
      >
        <Delete fontSize="inherit" />
      </IconButton>
    </Box>
  );
}
