// One of a few words, chosen from a list.
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly (readonly [T, string])[];
  /** Width, px, in rows where the label would be said again and again: it is then only told. */
  readonly bareWidthPx?: number;
  onChange(value: T): void;
}

export function Choice<T extends string>({ label, value, choices, bareWidthPx, onChange }: ChoiceProps<T>) {
  return (
    <TextField
      select
      size="small"
      {...(bareWidthPx === undefined
        ? { label }
        : { slotProps: { select: { SelectDisplayProps: { 'aria-label': label } } }, sx: { width: bareWidthPx } })}
      value={value}
      onChange={(event) => {
        const found = choices.find(([v]) => v === event.target.value);
        if (found) onChange(found[0]);
      }}
    >
      {choices.map(([v, words]) => (
        <MenuItem key={v} value={v}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
