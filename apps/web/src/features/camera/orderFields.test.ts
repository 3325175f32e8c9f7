// The camera's form: the usual order is one the server takes, and each kind asks for what matters to it.
import { shootOrderSchema, type ShootMenu } from '@blendrak/contract';
import { cameraFields, pictureFields, usualOrder } from './orderFields';

const settings: ShootMenu[number]['settings'] = {
  focalLengthMm: 60,
  fNumber: 8,
  iso: 100,
  step: null,
  focusFromMm: null,
  rows: 1,
  wind: 1,
  support: 'tripod',
  intervalS: 4,
  pupilOffsetMm: 0,
  lightDriftEvPerMin: 0,
  uncorrected: false,
  dust: 0,
};
const entry = (subject: ShootMenu[number]['subject'], kind: ShootMenu[number]['kind']): ShootMenu[number] => ({
  subject,
  kind,
  title: 'A set',
  frames: 5,
  settings,
  subjectMm: { near: 300, far: 348 },
});
const names = (fields: readonly { name: string }[]): string[] => fields.map((f) => f.name);

describe('usualOrder', () => {
  it('passes the server’s schema as it stands', () => {
    expect(shootOrderSchema.safeParse(usualOrder(entry('gear-train', 'focus-stack'), 7)).success).toBe(true);
  });

  it('is refused by name once a field is emptied or out of range', () => {
    const order = usualOrder(entry('gear-train', 'focus-stack'), 7);
    const problem = (over: object): string | undefined =>
      shootOrderSchema.safeParse({ ...order, ...over }).error?.issues[0]?.message;
    expect(problem({ frames: null })).toBe('frames: from 1 to 100 is accepted');
    expect(problem({ longSidePx: 99999 })).toBe('longer side: from 320 px to 12000 px is accepted');
    expect(problem({ frames: 2.5 })).toBe('frames: a whole number is accepted');
    expect(problem({ name: ' ' })).toBe('name: a name is needed');
    expect(problem({ settings: { ...settings, step: -1 } })).toBe('step: more than 0 is accepted');
  });
});

describe('fields', () => {
  it('ask for rows of the cove only, and for no number of frames of a vertical pair', () => {
    expect(names(pictureFields(entry('cove', 'panorama')))).toContain('settings.rows');
    expect(names(pictureFields(entry('gear-train', 'focus-stack')))).not.toContain('settings.rows');
    expect(names(pictureFields(entry('tower', 'panorama')))).not.toContain('frames');
  });

  it('ask for the pupil offset where the camera turns', () => {
    expect(names(cameraFields('panorama'))).toContain('settings.pupilOffsetMm');
    expect(names(cameraFields('bracket'))).not.toContain('settings.pupilOffsetMm');
  });

  it('name the step by what it is: dioptres, EV or overlap', () => {
    const label = (e: ShootMenu[number]): string => pictureFields(e).find((f) => f.name === 'settings.step')!.label;
    expect(label(entry('gear-train', 'focus-stack'))).toContain('dioptres');
    expect(label(entry('lamp-room', 'bracket'))).toContain('EV');
    expect(label(entry('cove', 'panorama'))).toContain('Overlap');
  });
});
