// Camera and lens from the kit list, or from a test frame.
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useSnackbar } from 'notistack';
import { useRef } from 'react';
import type { Kit, PlanSheetRecord, TestFrame } from '@blendrak/contract';
import { wordsOf } from '../../../shared/api';
import { planApi } from '../planApi';
import { useKit } from '../usePlan';

type Request = Extract<PlanSheetRecord, { kind: 'focus-stack' }>['request'];

export function CameraField({
  camera,
  onChange,
}: {
  readonly camera: Request['camera'];
  onChange(body: Kit['bodies'][number]): void;
}) {
  const kit = useKit();
  const bodies = kit.data?.bodies ?? [];
  const known = bodies.some((b) => b.name === camera.name);
  return (
    <TextField
      select
      size="small"
      fullWidth
      label="Camera"
      value={camera.name}
      helperText={`${camera.pixelsWide} × ${camera.pixelsHigh} px, ${camera.sensorWidthMm.toFixed(1)} × ${camera.sensorHeightMm.toFixed(1)} mm`}
      onChange={(event) => onChange(bodies.find((b) => b.name === event.target.value)!)}
    >
      {!known && <MenuItem value={camera.name}>{camera.name}</MenuItem>}
      {bodies.map((b) => (
        <MenuItem key={b.name} value={b.name}>
          {b.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

export function LensField({
  lens,
  onChange,
}: {
  readonly lens: Request['lens'];
  onChange(lens: Request['lens']): void;
}) {
  const kit = useKit();
  const lenses = kit.data?.lenses ?? [];
  const known = lenses.some((l) => l.name === lens.name);
  return (
    <TextField
      select
      size="small"
      fullWidth
      label="Lens"
      value={lens.name}
      helperText={`f/${lens.widestFNumber} to f/${lens.smallestFNumber}, sharpest at f/${lens.sharpestFNumber}`}
      onChange={(event) => onChange(lenses.find((l) => l.name === event.target.value)!)}
    >
      {!known && <MenuItem value={lens.name}>{lens.name}</MenuItem>}
      {lenses.map((l) => (
        <MenuItem key={l.name} value={l.name}>
          {l.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Reads a picture file for its settings; nothing is kept. */
export function TestFrameButton({ words, onRead }: { readonly words: string; onRead(frame: TestFrame): void }) {
  const input = useRef<HTMLInputElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  const read = async (file: File): Promise<void> => {
    try {
      onRead(await planApi.testFrame(file));
    } catch (error) {
      enqueueSnackbar(wordsOf(error), { variant: 'error' });
    }
  };
  return (
    <>
      <Button variant="outlined" sx={{ gridColumn: '1 / -1' }} onClick={() => input.current?.click()}>
        {words}
      </Button>
      <input
        ref={input}
        type="file"
        accept="image/*,.tif,.tiff"
        aria-label={words}
        hidden
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void read(file);
        }}
      />
    </>
  );
}

/** Camera and lens as a test frame shows them; what its file does not say stays. */
export function kitFromFrame(
  frame: TestFrame,
  request: Request,
): Pick<Request, 'camera' | 'lens' | 'fNumber' | 'exposureS'> {
  const { exif, width, height, sensorWidthMm } = frame;
  const [wide, high] = width >= height ? [width, height] : [height, width];
  const sensor = sensorWidthMm ?? request.camera.sensorWidthMm;
  const focal = exif?.focalLengthMm ?? request.lens.focalLengthMm;
  return {
    camera: {
      name: exif?.camera ?? `Camera of ${frame.fileName}`,
      sensorWidthMm: Number(sensor.toFixed(2)),
      sensorHeightMm: Number(((sensor * high) / wide).toFixed(2)),
      pixelsWide: wide,
      pixelsHigh: high,
    },
    lens: { ...request.lens, name: exif?.lens ?? `${focal} mm of ${frame.fileName}`, focalLengthMm: focal },
    fNumber: exif?.fNumber ?? request.fNumber,
    exposureS: exif?.exposureS ?? request.exposureS,
  };
}
