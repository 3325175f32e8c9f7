// Fields of the planners, by what is typed into them.
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  formatFNumber,
  formatLength,
  formatShutter,
  parseFNumber,
  parseLength,
  parseShutter,
  type FieldProblem,
  type LengthUnit,
} from '@blendrak/core/plan';
import { useUnits } from '../units';
import { QuantityField } from './QuantityField';

interface FieldProps<T> {
  readonly label: string;
  readonly path: string;
  readonly value: T;
  readonly problems: readonly FieldProblem[];
  readonly help?: string;
  readonly disabled?: boolean;
  onChange(value: T): void;
}

/** A length; null is infinity. */
export function LengthField({
  usual,
  endless = false,
  value,
  onChange,
  ...rest
}: FieldProps<number | null> & { readonly usual: LengthUnit; readonly endless?: boolean }) {
  const unit = useUnits((s) => s.units[rest.label]) ?? usual;
  const remember = useUnits((s) => s.remember);
  return (
    <QuantityField
      {...rest}
      value={value ?? Infinity}
      format={(mm) => formatLength(mm, unit)}
      parse={(text) => {
        const read = parseLength(text, unit);
        return read && (endless || read.mm !== Infinity) ? read.mm : null;
      }}
      onRead={(text) => {
        const read = parseLength(text, unit);
        if (read) remember(rest.label, read.unit);
      }}
      accepted={`A length such as 35 cm, 1.2 m or 1' 2"${endless ? ', or infinity,' : ''}`}
      onChange={(mm) => onChange(mm === Infinity ? null : mm)}
    />
  );
}

/** A length that is never infinite. */
export function FiniteLengthField({ onChange, ...rest }: FieldProps<number> & { readonly usual: LengthUnit }) {
  return <LengthField {...rest} onChange={(mm) => mm !== null && onChange(mm)} />;
}

export function ShutterField(props: FieldProps<number>) {
  return (
    <QuantityField
      {...props}
      format={formatShutter}
      parse={parseShutter}
      accepted={'A time such as 1/125, 0.8 s or 2"'}
    />
  );
}

export function FNumberField(props: FieldProps<number>) {
  return (
    <QuantityField {...props} format={formatFNumber} parse={parseFNumber} accepted="An f-number such as 8 or f/5.6" />
  );
}

/** A plain number with a unit that is shown; `scale` turns what is stored into what is shown (100 for percent). */
export function NumberField({
  unit,
  scale = 1,
  digits = 6,
  ...rest
}: FieldProps<number> & { readonly unit: string; readonly scale?: number; readonly digits?: number }) {
  return (
    <QuantityField
      {...rest}
      format={(value) =>
        `${Number((value * scale).toPrecision(digits))}${unit === '°' || unit === '' ? unit : ` ${unit}`}`
      }
      parse={(text) => {
        const match = /^([+\-−]?\d+(?:[.,]\d+)?|[+\-−]?[.,]\d+)\s*(\S.*)?$/.exec(text.trim());
        if (!match || (match[2] !== undefined && match[2].trim() !== unit)) return null;
        return Number(match[1]!.replace(',', '.').replace('−', '-')) / scale;
      }}
      accepted={`A number${unit ? ` of ${unit}` : ''}`}
    />
  );
}

/** One of a few. */
export function ChoiceField<T extends string>({
  label,
  value,
  options,
  help,
  onChange,
}: {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (readonly [T, string])[];
  readonly help?: string;
  onChange(value: T): void;
}) {
  return (
    <TextField
      select
      size="small"
      fullWidth
      label={label}
      value={value}
      helperText={help ?? ' '}
      onChange={(event) => onChange(event.target.value as T)}
    >
      {options.map(([option, words]) => (
        <MenuItem key={option} value={option}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
