// A button for a command: its words, its key and whether it can be called come from the command.
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import type { Command } from './keys';

/** @param icon shown instead of words, which assistive technology and the tooltip still have */
export function CommandButton({
  command,
  icon,
  children,
}: {
  command: Command;
  icon?: ReactNode;
  children?: ReactNode;
}) {
  const { label, shown, isEnabled, run } = command;
  const call = (): void => run(true);
  return (
    <Tooltip title={`${label} (${shown})`}>
      <span>
        {icon ? (
          <IconButton size="small" aria-label={label} disabled={!isEnabled} onClick={call}>
            {icon}
          </IconButton>
        ) : (
          <Button color="inherit" disabled={!isEnabled} onClick={call}>
            {children ?? label}
          </Button>
        )}
      </span>
    </Tooltip>
  );
}
