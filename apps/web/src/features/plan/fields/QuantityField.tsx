// A field for a quantity as people type it: reads on every key, complains in words, writes back tidied when left.
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { FieldProblem } from '@blendrak/core/plan';

export interface QuantityFieldProps<T> {
  readonly label: string;
  readonly value: T;
  /** Dotted path in the request; problems of the plan stand at the field that has it. */
  readonly path: string;
  readonly problems: readonly FieldProblem[];
  readonly help?: string;
  readonly disabled?: boolean;
  format(value: T): string;
  /** Null for what cannot be read. */
  parse(text: string): T | null;
  /** What would be read, for the complaint. */
  readonly accepted: string;
  onChange(value: T): void;
  /** Called with what was typed when the field is left and could be read. */
  onRead?(text: string): void;
}

export function QuantityField<T>({
  label,
  value,
  path,
  problems,
  help,
  disabled,
  format,
  parse,
  accepted,
  onChange,
  onRead,
}: QuantityFieldProps<T>) {
  // Text while it is being typed; null shows the value.
  const [text, setText] = useState<string | null>(null);
  const unread = text !== null && parse(text) === null;
  const problem = problems.find((p) => p.field === path);
  const words = unread ? `${text.trim() || 'nothing'} cannot be read. ${accepted} is accepted.` : problem?.message;
  const warning = !unread && problem?.severity === 'warning';
  return (
    <TextField
      size="small"
      fullWidth
      label={label}
      value={text ?? format(value)}
      disabled={disabled ?? false}
      error={unread || problem?.severity === 'error'}
      helperText={words ?? help ?? ' '}
      onFocus={(event) => event.target.select()}
      onChange={(event) => {
        setText(event.target.value);
        const read = parse(event.target.value);
        if (read !== null) onChange(read);
      }}
      onBlur={() => {
        // What cannot be read stays to be mended; the plan keeps its last value.
        if (unread) return;
        if (text !== null) onRead?.(text);
        setText(null);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setText(null);
      }}
      slotProps={{
        htmlInput: { inputMode: 'text', autoComplete: 'off', spellCheck: false },
        formHelperText: { sx: warning ? { color: 'warning.main' } : {} },
      }}
    />
  );
}
