// The demo: one job of each kind, photographed at first start, each with a merge made elsewhere, and a card to sort.
import type { ShootOrder, ShootSubject } from '@blendrak/contract';
import { shootMenu } from './camera';
import type { Services } from './context';
import { queueCard, queueShoots } from './shootService';

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

export const DEMO_CARD = 'A morning at Kestrel Point';

/** A card as people bring it home: sets one after the other, a hand between them. */
const CARD: readonly Demo[] = [
  { name: 'Splice', subject: 'signal-flags', seed: 31, frames: 6, size: 0.2 },
  { name: 'Lamp room', subject: 'lamp-room', seed: 32, frames: 5, size: 0.2 },
  { name: 'Cove', subject: 'cove', seed: 33, frames: 4, size: 0.2 },
  { name: 'Gears', subject: 'gear-train', seed: 34, frames: 7, size: 0.2 },
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
  queueShoots(
    services,
    wantedDemos().map((demo) => ({ ...orderOf(demo), mergeElsewhere: true })),
  );
  if (process.env['BLENDRAK_DEMO'] === undefined)
    queueCard(services, DEMO_CARD, {
      sets: CARD.map((demo) => ({ ...orderOf(demo), separator: demo !== CARD.at(-1) })),
    });
}

function orderOf({ name, subject, seed, frames, size }: Demo): ShootOrder {
  const { settings } = shootMenu().find((m) => m.subject === subject)!;
  return {
    name,
    subject,
    seed,
    frames,
    longSidePx: Math.max(320, Math.round(demoWidth() * size)),
    settings,
    format: 'jpeg',
    bits: 8,
    separator: false,
    mergeElsewhere: false,
  };
}
