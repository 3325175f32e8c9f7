// What a focus stack is planned from.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { PlanSheetRecord } from '@blendrak/contract';
import type { FieldProblem, FocusRequest } from '@blendrak/core/plan';
import { ChoiceField, FiniteLengthField, FNumberField, LengthField, NumberField } from './fields/fields';
import { Group } from './fields/Group';
import { CameraField, kitFromFrame, LensField, TestFrameButton } from './fields/KitFields';
import { PaceFields } from './fields/PaceFields';

export type FocusSheet = Extract<PlanSheetRecord, { kind: 'focus-stack' }>;

interface FocusFormProps {
  readonly sheet: FocusSheet;
  readonly problems: readonly FieldProblem[];
  onChange(sheet: FocusSheet): void;
}

interface PartProps {
  readonly request: FocusSheet['request'];
  readonly problems: readonly FieldProblem[];
  set(part: Partial<FocusSheet['request']>): void;
}

export function FocusForm({ sheet, problems, onChange }: FocusFormProps) {
  const { request } = sheet;
  // Distances set by hand belong to the plan they were set in: a change of lens or place plans anew.
  const set = (part: Partial<FocusSheet['request']>): void =>
    onChange({ ...sheet, request: { ...request, focusMm: null, ...part } });
  const field = { problems };
  return (
    <Box sx={{ display: 'grid', gap: 2.5 }}>
      <Group title="Camera and lens">
        <CameraField
          camera={request.camera}
          onChange={({ stepScale, ...camera }) =>
            onChange({ ...sheet, stepScale, request: { ...request, camera, focusMm: null } })
          }
        />
        <LensField lens={request.lens} onChange={(lens) => set({ lens })} />
        <FNumberField
          {...field}
          label="Aperture"
          path="fNumber"
          value={request.fNumber}
          help="or drag it above the picture"
          onChange={(fNumber) => set({ fNumber })}
        />
        <ChoiceField
          label="Moves by"
          value={request.drive}
          options={[
            ['focus', 'focusing'],
            ['rail', 'a rail'],
          ]}
          onChange={(drive) => set({ drive })}
        />
        <TestFrameButton
          words="Read camera and lens from a test frame"
          onRead={(frame) => set(kitFromFrame(frame, request))}
        />
      </Group>
      <SubjectFields request={request} problems={problems} set={set} />
      <SharpnessFields request={request} problems={problems} set={set} />
      <PaceFields
        request={request}
        problems={problems}
        onChange={(part) => onChange({ ...sheet, request: { ...request, ...part } })}
      />
    </Box>
  );
}

const DEFAULT_ACCEPTED: Readonly<Record<FocusRequest['accepted']['by'], FocusRequest['accepted']>> = {
  pixels: { by: 'pixels', pixels: 2 },
  diagonal: { by: 'diagonal' },
  print: { by: 'print', printWidthMm: 600, viewingDistanceMm: 500 },
};

function AcceptedFields({
  request,
  problems,
  onChange,
}: {
  readonly request: FocusSheet['request'];
  readonly problems: readonly FieldProblem[];
  onChange(part: Pick<FocusSheet['request'], 'accepted'>): void;
}) {
  const { accepted } = request;
  return (
    <>
      <ChoiceField
        label="Sharp enough"
        value={accepted.by}
        options={[
          ['pixels', 'at 100 %'],
          ['print', 'on a print'],
          ['diagonal', 'diagonal / 1500'],
        ]}
        onChange={(by) => onChange({ accepted: DEFAULT_ACCEPTED[by] })}
      />
      {accepted.by === 'pixels' && (
        <NumberField
          label="Blur allowed"
          path="accepted.pixels"
          unit="px"
          value={accepted.pixels}
          problems={problems}
          help="1.5 to 2 at 100 %"
          onChange={(pixels) => onChange({ accepted: { by: 'pixels', pixels } })}
        />
      )}
      {accepted.by === 'print' && (
        <>
          <FiniteLengthField
            label="Print width"
            path="accepted.printWidthMm"
            usual="cm"
            value={accepted.printWidthMm}
            problems={problems}
            onChange={(printWidthMm) => onChange({ accepted: { ...accepted, printWidthMm } })}
          />
          <FiniteLengthField
            label="Viewed from"
            path="accepted.viewingDistanceMm"
            usual="cm"
            value={accepted.viewingDistanceMm}
            problems={problems}
            onChange={(viewingDistanceMm) => onChange({ accepted: { ...accepted, viewingDistanceMm } })}
          />
        </>
      )}
    </>
  );
}

function SubjectFields({ request, problems, set }: PartProps) {
  const field = { problems };
  return (
    <Group title="Subject">
      {request.drive === 'focus' ? (
        <>
          <FiniteLengthField
            {...field}
            label="Nearest point"
            path="nearestMm"
            usual="cm"
            value={request.nearestMm}
            help="from the lens"
            onChange={(nearestMm) => set({ nearestMm })}
          />
          <LengthField
            {...field}
            endless
            label="Farthest point"
            path="farthestMm"
            usual="cm"
            value={request.farthestMm}
            help="or infinity"
            onChange={(farthestMm) => set({ farthestMm })}
          />
        </>
      ) : (
        <>
          <FiniteLengthField
            {...field}
            label="Depth"
            path="depthMm"
            usual="mm"
            value={request.depthMm}
            help="of the subject along the rail"
            onChange={(depthMm) => set({ depthMm })}
          />
          <NumberField
            {...field}
            label="Magnification"
            path="magnification"
            unit="×"
            value={request.magnification}
            help="on the sensor; 1 is life size"
            onChange={(magnification) => set({ magnification })}
          />
          <FiniteLengthField
            {...field}
            label="Extension tubes"
            path="extensionMm"
            usual="mm"
            value={request.extensionMm}
            help="raise the magnification"
            onChange={(extensionMm) => set({ extensionMm })}
          />
          <NumberField
            {...field}
            label="Pupil magnification"
            path="lens.pupilMagnification"
            unit=""
            value={request.lens.pupilMagnification}
            help="1 where unknown"
            onChange={(pupilMagnification) => set({ lens: { ...request.lens, pupilMagnification } })}
          />
        </>
      )}
      <NumberField
        {...field}
        label="Movement"
        path="motionMmPerS"
        unit="mm/s"
        value={request.motionMmPerS}
        help="leaves in wind: about 200"
        onChange={(motionMmPerS) => set({ motionMmPerS })}
      />
      <NumberField
        {...field}
        label="Movement allowed"
        path="motionLimitPx"
        unit="px"
        value={request.motionLimitPx}
        help="smear while the shutter is open"
        onChange={(motionLimitPx) => set({ motionLimitPx })}
      />
    </Group>
  );
}

function SharpnessFields({ request, problems, set }: PartProps) {
  const field = { problems };
  return (
    <Group title="Sharpness and overlap">
      <AcceptedFields request={request} problems={problems} onChange={set} />
      <NumberField
        {...field}
        label="Overlap"
        path="overlap"
        unit="%"
        scale={100}
        value={request.overlap}
        help="of neighbouring slices"
        onChange={(overlap) => set({ overlap })}
      />
      <NumberField
        {...field}
        label="Spare slices"
        path="spare"
        unit=""
        value={request.spare}
        help="beyond each end"
        onChange={(spare) => set({ spare })}
      />
      <ChoiceField
        label="Order"
        value={request.order}
        options={[
          ['near-to-far', 'near to far'],
          ['far-to-near', 'far to near'],
        ]}
        onChange={(order) => set({ order, focusMm: request.focusMm })}
      />
      {request.focusMm && (
        <Button variant="outlined" sx={{ alignSelf: 'start', mt: 0.5 }} onClick={() => set({ focusMm: null })}>
          Back to planned distances
        </Button>
      )}
    </Group>
  );
}
