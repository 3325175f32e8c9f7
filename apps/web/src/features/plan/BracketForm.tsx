// What a bracket is planned from.
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { useSnackbar } from 'notistack';
import type { PlanSheetRecord, TestFrame } from '@blendrak/contract';
import type { FieldProblem } from '@blendrak/core/plan';
import { ChoiceField, FNumberField, NumberField, ShutterField } from './fields/fields';
import { Group } from './fields/Group';
import { TestFrameButton } from './fields/KitFields';
import { PaceFields } from './fields/PaceFields';

export type BracketSheet = Extract<PlanSheetRecord, { kind: 'bracket' }>;

interface BracketFormProps {
  readonly sheet: BracketSheet;
  readonly problems: readonly FieldProblem[];
  onChange(sheet: BracketSheet): void;
}

export function BracketForm({ sheet, problems, onChange }: BracketFormProps) {
  const { request } = sheet;
  const set = (part: Partial<BracketSheet['request']>): void =>
    onChange({ ...sheet, request: { ...request, ...part } });
  const { enqueueSnackbar } = useSnackbar();
  const takeLight = (frame: TestFrame): void => {
    const { light, exif } = frame;
    const open = light.highlightClippedShare > 0.005 || light.shadowClippedShare > 0.005;
    set({
      sceneEv: Number(light.rangeEv.toFixed(1)),
      exposureS: exif?.exposureS ?? request.exposureS,
      fNumber: exif?.fNumber ?? request.fNumber,
      iso: exif?.iso ?? request.iso,
    });
    enqueueSnackbar(
      open
        ? `${frame.fileName}: ${light.rangeEv.toFixed(1)} EV and more: ${(light.highlightClippedShare * 100).toFixed(1)} % is clipped, ${(light.shadowClippedShare * 100).toFixed(1)} % lost in shadow. Add what lies beyond.`
        : `${frame.fileName}: ${light.rangeEv.toFixed(1)} EV between the darkest and the brightest tone.`,
      { variant: open ? 'warning' : 'info' },
    );
  };
  const field = { problems };
  return (
    <Box sx={{ display: 'grid', gap: 2.5 }}>
      <Group title="Light">
        <NumberField
          {...field}
          label="Range of the scene"
          path="sceneEv"
          unit="EV"
          value={request.sceneEv}
          help="a room with bright windows: 15 to 18"
          onChange={(sceneEv) => set({ sceneEv })}
        />
        <NumberField
          {...field}
          label="One frame holds"
          path="usableEv"
          unit="EV"
          value={request.usableEv}
          help="with acceptable noise: 9 to 11"
          onChange={(usableEv) => set({ usableEv })}
        />
        <TestFrameButton words="Read the range from a test frame" onRead={takeLight} />
      </Group>
      <Group title="Exposures">
        <NumberField
          {...field}
          label="Step"
          path="stepEv"
          unit="EV"
          value={request.stepEv}
          help="2 is usual"
          onChange={(stepEv) => set({ stepEv })}
        />
        <ChoiceField
          label="Number"
          value={request.frames === null ? 'auto' : 'own'}
          options={[
            ['auto', 'as it takes'],
            ['own', 'my own number'],
          ]}
          onChange={(choice) => set({ frames: choice === 'auto' ? null : 3 })}
        />
        {request.frames !== null && (
          <NumberField
            {...field}
            label="Frames"
            path="frames"
            unit=""
            value={request.frames}
            onChange={(frames) => set({ frames })}
          />
        )}
        <FNumberField
          {...field}
          label="Aperture"
          path="fNumber"
          value={request.fNumber}
          onChange={(fNumber) => set({ fNumber })}
        />
        <NumberField {...field} label="ISO" path="iso" unit="" value={request.iso} onChange={(iso) => set({ iso })} />
        <NumberField
          {...field}
          label="Directions"
          path="directions"
          unit=""
          value={request.directions}
          help="more than 1 in a panorama"
          onChange={(directions) => set({ directions })}
        />
      </Group>
      <Extras request={request} problems={problems} onChange={(extras) => set({ extras })} />
      <PaceFields exposure="Middle exposure" request={request} problems={problems} onChange={set} />
    </Box>
  );
}

function Extras({
  request,
  problems,
  onChange,
}: {
  readonly request: BracketSheet['request'];
  readonly problems: readonly FieldProblem[];
  onChange(extras: BracketSheet['request']['extras']): void;
}) {
  const { extras } = request;
  const put = (k: number, part: Partial<(typeof extras)[number]>): void =>
    onChange(extras.map((e, i) => (i === k ? { ...e, ...part } : e)));
  return (
    <Group title="Further times, for what moves">
      {extras.map((extra, k) => (
        <Box
          key={k}
          sx={{
            gridColumn: '1 / -1',
            display: 'grid',
            gridTemplateColumns: '1fr 1fr auto',
            gap: 1.25,
            alignItems: 'start',
          }}
        >
          <TextField
            size="small"
            label="For"
            value={extra.what}
            onChange={(event) => put(k, { what: event.target.value })}
          />
          <ShutterField
            label="Time"
            path={`extras.${k}.exposureS`}
            value={extra.exposureS}
            problems={problems}
            onChange={(exposureS) => put(k, { exposureS })}
          />
          <IconButton
            aria-label={`Remove the time for ${extra.what || 'nothing'}`}
            onClick={() => onChange(extras.filter((_, i) => i !== k))}
          >
            <Close fontSize="small" />
          </IconButton>
        </Box>
      ))}
      <Button
        startIcon={<Add />}
        variant="outlined"
        sx={{ gridColumn: '1 / -1', justifySelf: 'start' }}
        disabled={extras.length >= 10}
        onClick={() => onChange([...extras, { what: 'silky water', exposureS: 2 }])}
      >
        Add a time
      </Button>
    </Group>
  );
}
