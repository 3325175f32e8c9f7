// Time: exposure, waiting, light that changes meanwhile.
import type { FieldProblem, Pace } from '@blendrak/core/plan';
import { Group } from './Group';
import { NumberField, ShutterField } from './fields';

type Timed = Pace & { readonly lightDriftEvPerMin: number };

export function PaceFields({
  request,
  problems,
  exposure = 'Exposure',
  onChange,
}: {
  readonly request: Timed;
  readonly problems: readonly FieldProblem[];
  readonly exposure?: string;
  onChange(part: Partial<Timed>): void;
}) {
  const seconds = (label: string, path: 'settleS' | 'delayS' | 'bufferS', help: string) => (
    <NumberField
      label={label}
      path={path}
      unit="s"
      value={request[path]}
      problems={problems}
      help={help}
      onChange={(v) => onChange({ [path]: v })}
    />
  );
  return (
    <Group title="Time">
      <ShutterField
        label={exposure}
        path="exposureS"
        value={request.exposureS}
        problems={problems}
        help={'1/125, 0.8 s or 2"'}
        onChange={(exposureS) => onChange({ exposureS })}
      />
      {seconds('Settling', 'settleS', 'before each frame, for vibration to die')}
      {seconds('Delay', 'delayS', 'after each frame: flash, rail, head')}
      {seconds('Buffer', 'bufferS', 'once, for the camera to write')}
      <NumberField
        label="Light drift"
        path="lightDriftEvPerMin"
        unit="EV/min"
        value={request.lightDriftEvPerMin}
        problems={problems}
        help="dusk: 0.1 to 0.3"
        onChange={(lightDriftEvPerMin) => onChange({ lightDriftEvPerMin })}
      />
    </Group>
  );
}
