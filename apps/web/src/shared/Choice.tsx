// One of a few words, chosen from a list.
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly (readonly [T, string])[];
  onChange(value: T): void;
}

export function Choice<T extends string>({ label, value, choices, onChange }: ChoiceProps<T>) {
  return (
    <TextField
      select
      size="small"
      label={label}
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
