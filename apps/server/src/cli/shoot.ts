// `blendrak shoot`: the simulated camera photographs a set into a folder, as if from a card.
import { mkdir, readdir, rename } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { shootOrderSchema, subjectSchema } from '@blendrak/contract';
import { InputError } from '../codecs';
import { checkOrder, shootMenu, shootOrder } from '../services/camera';
import { formRefusal } from '../shared/refusalWords';
import { EXIT, progressPrinter } from './output';
import { isWorkspace, withWorkspace } from './workspace';

export interface ShootOptions {
  readonly subject: string;
  readonly seed?: string;
  readonly size: string;
  readonly frames?: string;
  readonly step?: string;
  readonly rows?: string;
  readonly focalLength?: string;
  readonly aperture?: string;
  readonly iso?: string;
  readonly wind?: string;
  readonly hand?: boolean;
  readonly pupilOffset?: string;
  readonly uncorrected?: boolean;
  readonly dust?: string;
  readonly format: string;
  readonly bits: string;
  readonly separator?: boolean;
  readonly merge?: boolean;
  readonly jsonProgress?: boolean;
}

/** Photographs into FOLDER; with --merge also `merge made elsewhere.tif` and `truth.json` beside it. */
export async function shootCommand(folder: string, options: ShootOptions): Promise<number> {
  const order = orderOf(options);
  checkOrder(order);
  await refuseFull(folder);
  const print = progressPrinter(options.jsonProgress ?? false);
  await withWorkspace(async (work) => {
    const card = await shootOrder(order, work, (share, message) => print('shoot', share, message));
    for (const name of await readdir(card.folder)) await rename(join(card.folder, name), join(folder, name));
    if (card.merge) {
      // Beside the frames, not among them: the folder of the set holds frames only.
      const beside = join(folder, 'merge');
      await mkdir(beside, { recursive: true });
      await rename(card.merge, join(beside, basename(card.merge)));
      await rename(join(work, 'truth.json'), join(beside, 'truth.json'));
    }
  }, folder);
  return EXIT.clean;
}

async function refuseFull(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  const there = (await readdir(folder)).filter((n) => !isWorkspace(n));
  if (there.length > 0)
    throw new InputError(folder, `there are ${there.length} files in it`, 'an empty or a new folder');
}

function orderOf(options: ShootOptions): ReturnType<typeof shootOrderSchema.parse> {
  const subject = subjectSchema.safeParse(options.subject);
  if (!subject.success) {
    throw new InputError('--subject', `there is no subject "${options.subject}"`, subjectSchema.options.join(', '));
  }
  const usual = shootMenu().find((m) => m.subject === subject.data)!;
  const number = (text: string | undefined, fallback: number): number => (text === undefined ? fallback : Number(text));
  const { settings } = usual;
  const order = {
    name: usual.title,
    subject: subject.data,
    seed: number(options.seed, Date.now() % 1_000_000),
    longSidePx: number(options.size, 3000),
    frames: number(options.frames, usual.frames),
    settings: {
      ...settings,
      step: options.step === undefined ? settings.step : Number(options.step),
      rows: number(options.rows, settings.rows),
      focalLengthMm: number(options.focalLength, settings.focalLengthMm),
      fNumber: number(options.aperture, settings.fNumber),
      iso: number(options.iso, settings.iso),
      wind: number(options.wind, settings.wind),
      support: options.hand ? 'hand' : settings.support,
      pupilOffsetMm: number(options.pupilOffset, settings.pupilOffsetMm),
      uncorrected: options.uncorrected ?? settings.uncorrected,
      dust: number(options.dust, settings.dust),
    },
    format: options.format,
    bits: Number(options.bits),
    separator: options.separator ?? false,
    mergeElsewhere: options.merge ?? false,
  };
  const parsed = shootOrderSchema.safeParse(order);
  if (parsed.success) return parsed.data;
  const { where, problem, accepted } = formRefusal(parsed.error, order);
  throw new InputError(where, problem, accepted);
}
