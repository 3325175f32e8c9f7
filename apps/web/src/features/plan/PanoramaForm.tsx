// What a panorama is planned from.
import Box from '@mui/material/Box';
import type { PlanSheetRecord } from '@blendrak/contract';
import type { FieldProblem } from '@blendrak/core/plan';
import { ChoiceField, FiniteLengthField, LengthField, NumberField } from './fields/fields';
import { Group } from './fields/Group';
import { CameraField } from './fields/KitFields';
import { PaceFields } from './fields/PaceFields';

export type PanoramaSheet = Extract<PlanSheetRecord, { kind: 'panorama' }>;

interface PanoramaFormProps {
  readonly sheet: PanoramaSheet;
  readonly problems: readonly FieldProblem[];
  onChange(sheet: PanoramaSheet): void;
}

interface PartProps {
  readonly request: PanoramaSheet['request'];
  readonly problems: readonly FieldProblem[];
  set(part: Partial<PanoramaSheet['request']>): void;
}

export function PanoramaForm({ sheet, problems, onChange }: PanoramaFormProps) {
  const { request } = sheet;
  const set = (part: Partial<PanoramaSheet['request']>): void =>
    onChange({ ...sheet, request: { ...request, ...part } });
  const field = { problems };
  return (
    <Box sx={{ display: 'grid', gap: 2.5 }}>
      <WantedFields request={request} problems={problems} set={set} />
      <Group title="Camera">
        <CameraField camera={request.camera} onChange={({ stepScale: _scale, ...camera }) => set({ camera })} />
        <ChoiceField
          label="Held"
          value={request.orientation}
          options={[
            ['portrait', 'portrait, for height'],
            ['landscape', 'landscape'],
          ]}
          onChange={(orientation) => set({ orientation })}
        />
        <NumberField
          {...field}
          label="Overlap"
          path="overlap"
          unit="%"
          scale={100}
          value={request.overlap}
          help="25 to 40 % of a frame"
          onChange={(overlap) => set({ overlap })}
        />
        <NumberField
          {...field}
          label="Margin at the edges"
          path="edgeMargin"
          unit="%"
          scale={100}
          value={request.edgeMargin}
          help="shot beyond, for cropping"
          onChange={(edgeMargin) => set({ edgeMargin })}
        />
        <NumberField
          {...field}
          label="Exposures at each"
          path="exposuresEach"
          unit=""
          value={request.exposuresEach}
          help="more than 1 for a bracket"
          onChange={(exposuresEach) => set({ exposuresEach })}
        />
      </Group>
      <NearFields request={request} problems={problems} set={set} />
      <PaceFields request={request} problems={problems} onChange={set} />
    </Box>
  );
}

function WantedFields({ request, problems, set }: PartProps) {
  const field = { problems };
  return (
    <Group title="What is wanted">
      <NumberField
        {...field}
        label="Angle across"
        path="horizontalDeg"
        unit="°"
        value={request.horizontalDeg}
        help="360° is all around"
        onChange={(horizontalDeg) => set({ horizontalDeg })}
      />
      <NumberField
        {...field}
        label="Angle up and down"
        path="verticalDeg"
        unit="°"
        value={request.verticalDeg}
        onChange={(verticalDeg) => set({ verticalDeg })}
      />
      <ChoiceField
        label="Start from"
        value={request.from}
        options={[
          ['lens', 'the lens I have'],
          ['print', 'the print I want'],
        ]}
        onChange={(from) => set({ from })}
      />
      <ChoiceField
        label="Projection"
        value={request.projection}
        options={[
          ['flat', 'flat perspective'],
          ['cylindrical', 'cylindrical'],
          ['spherical', 'spherical'],
          ['repositioned', 'plain repositioning'],
        ]}
        help={problems.find((p) => p.field === 'projection')?.message ?? ' '}
        onChange={(projection) => set({ projection })}
      />
      {request.from === 'lens' ? (
        <NumberField
          {...field}
          label="Focal length"
          path="focalLengthMm"
          unit="mm"
          value={request.focalLengthMm}
          help="longer: more frames, more detail"
          onChange={(focalLengthMm) => set({ focalLengthMm })}
        />
      ) : (
        <FiniteLengthField
          {...field}
          label="Print width"
          path="printWidthMm"
          usual="cm"
          value={request.printWidthMm}
          help="the lens follows from it"
          onChange={(printWidthMm) => set({ printWidthMm })}
        />
      )}
      <NumberField
        {...field}
        label="Print resolution"
        path="ppi"
        unit="ppi"
        value={request.ppi}
        help="240 to 300 for a close look"
        onChange={(ppi) => set({ ppi })}
      />
    </Group>
  );
}

function NearFields({ request, problems, set }: PartProps) {
  const field = { problems };
  return (
    <Group title="Near things">
      <FiniteLengthField
        {...field}
        label="Nearest thing"
        path="nearestMm"
        usual="m"
        value={request.nearestMm}
        onChange={(nearestMm) => set({ nearestMm })}
      />
      <LengthField
        {...field}
        endless
        label="Farthest thing"
        path="farthestMm"
        usual="m"
        value={request.farthestMm}
        onChange={(farthestMm) => set({ farthestMm })}
      />
      <FiniteLengthField
        {...field}
        label="Pupil off the axis"
        path="pupilOffsetMm"
        usual="mm"
        value={request.pupilOffsetMm}
        help="0 turns about the entrance pupil"
        onChange={(pupilOffsetMm) => set({ pupilOffsetMm })}
      />
    </Group>
  );
}
