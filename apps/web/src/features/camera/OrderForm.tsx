// The settings of one order.
import { zodResolver } from '@hookform/resolvers/zod';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { Controller, useForm, type Control } from 'react-hook-form';
import { shootOrderSchema, type ShootMenu, type ShootOrder } from '@blendrak/contract';
import { cameraFields, pictureFields, usualOrder, type NumberField } from './orderFields';

interface OrderFormProps {
  readonly entry: ShootMenu[number];
  readonly seed: number;
  readonly busy: boolean;
  /** What the camera answered to the last order, if it refused. */
  readonly problem: string | null;
  onShoot(order: ShootOrder): void;
}

type Switch = 'settings.uncorrected' | 'separator' | 'mergeElsewhere';

export function OrderForm({ entry, seed, busy, problem, onShoot }: OrderFormProps) {
  const { control, handleSubmit, watch } = useForm<ShootOrder>({
    defaultValues: usualOrder(entry, seed),
    resolver: zodResolver(shootOrderSchema),
  });
  const jpeg = watch('format') === 'jpeg';
  return (
    <Box
      component="form"
      noValidate
      onSubmit={(event) => void handleSubmit(onShoot)(event)}
      sx={{ display: 'grid', gap: 2 }}
    >
      <Controller
        name="name"
        control={control}
        render={({ field, fieldState }) => (
          <TextField
            {...field}
            size="small"
            label="Name of the job"
            error={Boolean(fieldState.error)}
            helperText={fieldState.error?.message ?? ' '}
          />
        )}
      />
      <NumberFields control={control} title="Picture" fields={pictureFields(entry)} />
      <NumberFields control={control} title="Camera and place" fields={cameraFields(entry.kind)} />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center' }}>
        <Choice control={control} name="settings.support" label="Support" options={['tripod', 'hand']} />
        <Choice control={control} name="format" label="Files" options={['jpeg', 'png', 'tiff']} />
        {!jpeg && <Choice control={control} name="bits" label="Bits" options={[8, 16]} />}
        <Tick control={control} name="settings.uncorrected" label="Leave lens faults in" />
        <Tick control={control} name="separator" label="End with a frame of the hand" />
        <Tick control={control} name="mergeElsewhere" label="With a merge made elsewhere that has defects" />
      </Box>
      {problem && (
        <Typography role="alert" color="error">
          {problem}
        </Typography>
      )}
      <Box>
        <Button type="submit" variant="contained" disabled={busy}>
          Release
        </Button>
      </Box>
    </Box>
  );
}

function NumberFields({
  control,
  title,
  fields,
}: {
  control: Control<ShootOrder>;
  title: string;
  fields: readonly NumberField[];
}) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0 }}>
      <Typography component="legend" variant="h3" sx={{ mb: 1 }}>
        {title}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1.5 }}>
        {fields.map((f) => (
          <Controller
            key={f.name}
            name={f.name}
            control={control}
            render={({ field, fieldState }) => (
              <TextField
                size="small"
                type="number"
                label={f.label}
                name={field.name}
                inputRef={field.ref}
                onBlur={field.onBlur}
                value={typeof field.value === 'number' && Number.isFinite(field.value) ? field.value : ''}
                onChange={(e) => field.onChange(e.target.value === '' ? null : Number(e.target.value))}
                error={Boolean(fieldState.error)}
                helperText={fieldState.error?.message ?? f.help}
                slotProps={{ htmlInput: { step: f.step } }}
              />
            )}
          />
        ))}
      </Box>
    </Box>
  );
}

function Choice({
  control,
  name,
  label,
  options,
}: {
  control: Control<ShootOrder>;
  name: 'settings.support' | 'format' | 'bits';
  label: string;
  options: readonly (string | number)[];
}) {
  return (
    <Controller
      name={name}
      control={control}
      render={({ field }) => (
        <TextField {...field} select size="small" label={label} sx={{ minWidth: 110 }}>
          {options.map((o) => (
            <MenuItem key={o} value={o}>
              {o}
            </MenuItem>
          ))}
        </TextField>
      )}
    />
  );
}

function Tick({ control, name, label }: { control: Control<ShootOrder>; name: Switch; label: string }) {
  return (
    <Controller
      name={name}
      control={control}
      render={({ field }) => (
        <FormControlLabel
          label={label}
          control={<Checkbox size="small" checked={field.value} onChange={(e) => field.onChange(e.target.checked)} />}
        />
      )}
    />
  );
}
