// What is wanted now and then: chosen from a menu that says what each is for; the button names the one that is chosen.
import Box from '@mui/material/Box';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import ToggleButton from '@mui/material/ToggleButton';
import { useState } from 'react';
import { GREY, MONO } from '../../../app/theme';

export interface MenuChoice {
  readonly id: string;
  readonly name: string;
  readonly about: string | undefined;
  /** Its key. */
  readonly shown: string;
  readonly isEnabled: boolean;
  run(): void;
}

interface ChoiceMenuProps {
  /** On the button while nothing of the menu is chosen. */
  readonly name: string;
  readonly chosen: string | null;
  readonly choices: readonly MenuChoice[];
}

export function ChoiceMenu({ name, chosen, choices }: ChoiceMenuProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const current = choices.find(({ id }) => id === chosen);
  const close = (): void => setAnchor(null);
  return (
    <>
      <ToggleButton
        size="small"
        value="more"
        selected={current !== undefined}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ py: 0.1, px: 1, whiteSpace: 'nowrap', flex: 'none' }}
      >
        {current?.name ?? name} ▾
      </ToggleButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        {choices.map(({ id, name: words, about, shown, isEnabled, run }) => (
          <MenuItem
            key={id}
            dense
            disabled={!isEnabled}
            selected={id === chosen}
            onClick={() => {
              run();
              close();
            }}
          >
            <ListItemText primary={words} secondary={about} />
            <Box component="kbd" sx={{ ml: 3, fontFamily: MONO, fontSize: 11.5, color: GREY.quiet }}>
              {shown}
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
