// The user's cameras and lenses, and what each camera's focus steps do.
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import TextField from '@mui/material/TextField';
import { Children, type ReactNode } from 'react';
import { Controller, useFieldArray, useForm, type Control, type FieldPath } from 'react-hook-form';
import { Link } from 'react-router';
import { kitSchema, type Kit } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { PlainTable } from '../../shared/PlainTable';
import { planApi } from './planApi';
import { StepScaleEditor } from './StepScaleEditor';
import { PLAN_KEYS, useKit } from './usePlan';

export function KitScreen() {
  const kit = useKit();
  if (kit.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (kit.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(kit.error)}
      </Typography>
    );
  return <KitForm kit={kit.data} />;
}

const NEW_BODY: Kit['bodies'][number] = {
  name: 'New camera',
  sensorWidthMm: 36,
  sensorHeightMm: 24,
  pixelsWide: 6000,
  pixelsHigh: 4000,
  stepScale: [],
};
const NEW_LENS: Kit['lenses'][number] = {
  name: 'New lens',
  focalLengthMm: 50,
  widestFNumber: 2.8,
  smallestFNumber: 22,
  sharpestFNumber: 5.6,
  nearestFocusMm: 450,
  pupilMagnification: 1,
};

function KitForm({ kit }: { readonly kit: Kit }) {
  const client = useQueryClient();
  const { control, handleSubmit, formState, reset } = useForm<Kit>({
    defaultValues: kit,
    resolver: zodResolver(kitSchema),
  });
  const bodies = useFieldArray({ control, name: 'bodies' });
  const lenses = useFieldArray({ control, name: 'lenses' });
  const measured = useFieldArray({ control, name: 'measured' });
  const save = useMutation({
    mutationFn: planApi.changeKit,
    onSuccess: (saved) => {
      client.setQueryData(PLAN_KEYS.kit, saved);
      reset(saved);
    },
  });
  return (
    <Box
      component="form"
      noValidate
      onSubmit={(event) => void handleSubmit((value) => save.mutate(value))(event)}
      sx={{ height: '100%', overflow: 'auto' }}
    >
      <Box sx={{ maxWidth: 1180, mx: 'auto', p: 3, display: 'grid', gap: 2.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Cameras and lenses
          </Typography>
          {save.isError && (
            <Typography role="alert" color="error">
              {wordsOf(save.error)}
            </Typography>
          )}
          <Typography variant="body2" color="text.secondary" role="status">
            {formState.isDirty ? 'Changes are not saved yet' : 'Saved'}
          </Typography>
          <Button type="submit" variant="contained" disabled={!formState.isDirty || save.isPending}>
            Save
          </Button>
          <Button component={Link} to="/plan">
            All plans
          </Button>
        </Box>
        <Typography variant="h2">Cameras</Typography>
        {bodies.fields.map((field, k) => (
          <Box key={field.id} sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1.5, display: 'grid', gap: 1.25 }}>
            <Row>
              <Field control={control} name={`bodies.${k}.name`} label="Name" text />
              <Field control={control} name={`bodies.${k}.sensorWidthMm`} label="Sensor width, mm" />
              <Field control={control} name={`bodies.${k}.sensorHeightMm`} label="Sensor height, mm" />
              <Field control={control} name={`bodies.${k}.pixelsWide`} label="Pixels across" />
              <Field control={control} name={`bodies.${k}.pixelsHigh`} label="Pixels down" />
              <Remove name={field.name} disabled={bodies.fields.length === 1} onClick={() => bodies.remove(k)} />
            </Row>
            <Controller
              control={control}
              name={`bodies.${k}.stepScale`}
              render={({ field: { value, onChange } }) => (
                <StepScaleEditor camera={field} rows={value} onChange={onChange} />
              )}
            />
          </Box>
        ))}
        <Button
          startIcon={<Add />}
          variant="outlined"
          sx={{ justifySelf: 'start' }}
          onClick={() => bodies.append(NEW_BODY)}
        >
          Add a camera
        </Button>
        <Typography variant="h2">Lenses</Typography>
        {lenses.fields.map((field, k) => (
          <Row key={field.id}>
            <Field control={control} name={`lenses.${k}.name`} label="Name" text />
            <Field control={control} name={`lenses.${k}.focalLengthMm`} label="Focal length, mm" />
            <Field control={control} name={`lenses.${k}.widestFNumber`} label="Widest f/" />
            <Field control={control} name={`lenses.${k}.sharpestFNumber`} label="Sharpest f/" />
            <Field control={control} name={`lenses.${k}.smallestFNumber`} label="Smallest f/" />
            <Field control={control} name={`lenses.${k}.nearestFocusMm`} label="Focuses from, mm" />
            <Remove name={field.name} disabled={lenses.fields.length === 1} onClick={() => lenses.remove(k)} />
          </Row>
        ))}
        <Button
          startIcon={<Add />}
          variant="outlined"
          sx={{ justifySelf: 'start' }}
          onClick={() => lenses.append(NEW_LENS)}
        >
          Add a lens
        </Button>
        <Measured values={measured.fields} onRemove={measured.remove} />
      </Box>
    </Box>
  );
}

interface MeasuredProps {
  readonly values: Kit['measured'];
  onRemove(index: number): void;
}

function Measured({ values, onRemove }: MeasuredProps) {
  if (values.length === 0) return null;
  return (
    <>
      <Typography variant="h2">Measured</Typography>
      <PlainTable
        label="What was taken over from jobs"
        heads={['What', 'Body', 'Lens', 'Value', 'Spread', 'Jobs', 'Taken', '']}
        rows={values.map(({ camera, lens, what, words, value, unit, spread, jobs, takenAt }, k) => ({
          name: `${what}: ${words}`,
          cells: [
            camera,
            lens,
            `${value.toPrecision(3)} ${unit}`,
            spread === null ? 'one job' : `± ${spread.toPrecision(2)}`,
            String(jobs),
            takenAt.slice(0, 10),
            <Remove key="remove" name={`${what}: ${words}`} disabled={false} onClick={() => onRemove(k)} />,
          ],
        }))}
      />
    </>
  );
}

function Row({ children }: { readonly children: ReactNode }) {
  const fields = Children.count(children) - 2;
  return (
    <Box
      sx={{ display: 'grid', gridTemplateColumns: `2fr repeat(${fields}, 1fr) 34px`, gap: 1.25, alignItems: 'start' }}
    >
      {children}
    </Box>
  );
}

function Remove({ name, disabled, onClick }: { readonly name: string; readonly disabled: boolean; onClick(): void }) {
  return (
    <IconButton aria-label={`Remove ${name}`} disabled={disabled} onClick={onClick}>
      <Close fontSize="small" />
    </IconButton>
  );
}

function Field({
  control,
  name,
  label,
  text = false,
}: {
  readonly control: Control<Kit>;
  readonly name: FieldPath<Kit>;
  readonly label: string;
  readonly text?: boolean;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <TextField
          size="small"
          label={label}
          type={text ? 'text' : 'number'}
          inputRef={field.ref}
          name={field.name}
          onBlur={field.onBlur}
          value={
            typeof field.value === 'string' || (typeof field.value === 'number' && Number.isFinite(field.value))
              ? field.value
              : ''
          }
          onChange={(event) =>
            field.onChange(text ? event.target.value : event.target.value === '' ? null : Number(event.target.value))
          }
          error={Boolean(fieldState.error)}
          helperText={fieldState.error ? (text ? 'a name is needed' : 'a number is needed') : undefined}
          slotProps={{ htmlInput: { step: 'any' } }}
        />
      )}
    />
  );
}
