// What can be done to an operation of the record besides switching it off: a name, another mask, another place in the order, once
// more, taking it out.
import MoreVert from '@mui/icons-material/MoreVert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useRef, useState, type FormEvent } from 'react';
import type { Operation, OperationState } from '@blendrak/contract';
import { isPulled } from '@blendrak/core/repair';
import type { BenchMerge } from '../../../shared/queries';
import { MaskPanel } from './MaskPanel';

/** Longest name that is kept. */
const MOST_LETTERS = 120;

interface OperationMenuProps {
  readonly title: string;
  readonly operation: Operation;
  /** The operation that acts just before it, and the one before that; in the order in which they act. */
  readonly earlier: readonly Operation[];
  /** The operation that acts just after it, and the one after that. */
  readonly later: readonly Operation[];
  readonly merge: Pick<BenchMerge, 'width' | 'height'>;
  onPatch(patch: Partial<OperationState>): void;
  onDouble(): void;
  /** Lays its mask to edges so near its rim. */
  onSnap(reachPx: number): void;
  onRemove(): void;
}

export function OperationMenu(props: OperationMenuProps) {
  const { merge, title, operation, earlier, later, onPatch, onDouble, onSnap, onRemove } = props;
  const more = useRef<HTMLButtonElement>(null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [isMasking, setMasking] = useState(false);
  const [isNaming, setNaming] = useState(false);
  const close = (): void => setAnchor(null);
  const items = [
    { words: 'Name it …', run: () => setNaming(true), isEnabled: true },
    { words: 'Change its mask …', run: () => setMasking(true), isEnabled: !isPulled(operation) },
    { words: 'Double it', run: onDouble, isEnabled: true },
    { words: 'Let it act earlier', run: () => onPatch({ order: beyond(earlier, -1) }), isEnabled: earlier.length > 0 },
    { words: 'Let it act later', run: () => onPatch({ order: beyond(later, 1) }), isEnabled: later.length > 0 },
    { words: 'Take it out', run: onRemove, isEnabled: true },
  ];
  return (
    <>
      <IconButton
        ref={more}
        size="small"
        aria-label={`More of ${title}`}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <MoreVert fontSize="inherit" />
      </IconButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {items.map(({ words, run, isEnabled }) => (
          <MenuItem
            key={words}
            dense
            disabled={!isEnabled}
            onClick={() => {
              close();
              run();
            }}
          >
            {words}
          </MenuItem>
        ))}
      </Menu>
      {isMasking && more.current && (
        <MaskPanel
          {...{ merge, title, operation, onSnap }}
          anchor={more.current}
          onMask={(mask) => onPatch({ mask })}
          onClose={() => setMasking(false)}
        />
      )}
      {isNaming && (
        <NameDialog name={operation.name} onName={(name) => onPatch({ name })} onClose={() => setNaming(false)} />
      )}
    </>
  );
}

/** A place in the order just beyond the nearest of some operations. */
function beyond([nearest, next]: readonly Operation[], step: 1 | -1): number {
  return next ? (nearest!.order + next.order) / 2 : nearest!.order + step;
}

interface NameDialogProps {
  readonly name: string;
  onName(name: string): void;
  onClose(): void;
}

function NameDialog({ name: before, onName, onClose }: NameDialogProps) {
  const [name, setName] = useState(before);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onName(name.trim());
    onClose();
  };
  return (
    <Dialog open onClose={onClose}>
      <form onSubmit={submit}>
        <DialogTitle>What is this repair called?</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            size="small"
            label="Name"
            value={name}
            onChange={(e) => setName(e.target.value)}
            helperText="Empty: it is called by the frame it comes from"
            slotProps={{ htmlInput: { maxLength: MOST_LETTERS } }}
            sx={{ mt: 0.5 }}
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button variant="contained" type="submit">
            Keep the name
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
