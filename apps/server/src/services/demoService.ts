// The demo jobs: one set of each kind, photographed at first start, each with a merge made elsewhere.
import type { ShootOrder, ShootSubject } from '@blendrak/contract';
import { shootMenu } from './camera';
import type { Services } from './context';
import { queueShoots } from './shootService';

/** The set that is ready first: small, so that there is something to look at within a minute. */
export const FIRST_DEMO = 'Signal flags and rope splice, Kestrel Point';
export const MAIN_DEMO = 'Signal lamp gear train, Kestrel Point';

interface Demo {
  readonly name: string;
  readonly subject: ShootSubject;
  readonly seed: number;
  readonly frames: number;
  /** Longer side as a share of the demo's size. */
  readonly size: number;
}

const DEMOS: readonly Demo[] = [
  { name: FIRST_DEMO, subject: 'signal-flags', seed: 12, frames: 7, size: 0.35 },
  { name: 'Lamp room with bright windows', subject: 'lamp-room', seed: 6, frames: 3, size: 0.6 },
  { name: 'The cove from the railing', subject: 'cove', seed: 4, frames: 4, size: 0.6 },
  { name: 'The tower, sky blended first', subject: 'tower-nested', seed: 9, frames: 2, size: 0.6 },
  { name: MAIN_DEMO, subject: 'gear-train', seed: 5, frames: 10, size: 1 },
];

/** Longer side of the largest demo frames, px; smaller for tests. */
function demoWidth(): number {
  return Number(process.env['BLENDRAK_DEMO_WIDTH'] ?? 4000);
}

/** The demo sets; BLENDRAK_DEMO names the subjects wanted, for tests that cannot wait for all. */
function wantedDemos(): readonly Demo[] {
  const wanted = process.env['BLENDRAK_DEMO']?.split(',');
  return wanted ? DEMOS.filter((d) => wanted.includes(d.subject)) : DEMOS;
}

/** Queues the demo jobs once: a data folder that has had jobs does not get them again. */
export function queueDemo(services: Services): void {
  if (services.storage.jobs.list().length > 0) return;
  const menu = shootMenu();
  const orders = wantedDemos().map((demo): ShootOrder => {
    const { settings } = menu.find((m) => m.subject === demo.subject)!;
    return {
      name: demo.name,
      subject: demo.subject,
      seed: demo.seed,
      frames: demo.frames,
      longSidePx: Math.max(320, Math.round(demoWidth() * demo.size)),
      settings,
      format: 'jpeg',
      bits: 8,
      separator: false,
      mergeElsewhere: true,
    };
  });
  queueShoots(services, orders);
}
