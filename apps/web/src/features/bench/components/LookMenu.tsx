// The looks that are wanted now and then: chosen from a menu that says how to read them; the button names the one that is shown.
import Box from '@mui/material/Box';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import ToggleButton from '@mui/material/ToggleButton';
import { useState } from 'react';
import { GREY, MONO } from '../../../app/theme';
import type { Command } from '../../../shared/commands/keys';
import { LOOKS, type LookId } from '../looks';

interface LookMenuProps {
  readonly shown: LookId;
  readonly frame: number;
  readonly commands: Readonly<Record<string, Command>>;
}

export function LookMenu({ shown, frame, commands }: LookMenuProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const looks = LOOKS.filter((look) => look.place === 'menu');
  const current = looks.find((look) => look.id === shown);
  const close = (): void => setAnchor(null);
  return (
    <>
      <ToggleButton
        size="small"
        value="more"
        selected={current !== undefined}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ py: 0.1, px: 1, whiteSpace: 'nowrap' }}
      >
        {current ? current.label(frame) : 'Compare'} ▾
      </ToggleButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {looks.map(({ id, label, about, map }) => {
          const { isEnabled, run } = commands[`look-${id}`]!;
          return (
            <MenuItem
              key={id}
              dense
              disabled={!isEnabled}
              selected={id === shown}
              onClick={() => {
                run(true);
                close();
              }}
            >
              <ListItemText
                primary={label(frame)}
                secondary={isEnabled || !map ? about : 'This merge has no such map'}
              />
              <Box component="kbd" sx={{ ml: 3, fontFamily: MONO, fontSize: 11.5, color: GREY.quiet }}>
                {commands[`peek-${id}`]!.shown}
              </Box>
            </MenuItem>
          );
        })}
      </Menu>
    </>
  );
}
