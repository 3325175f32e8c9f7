// What `blendrak merge` is told about aligning and merging, checked word by word.
import { alignmentOptionsSchema, layoutSchema } from '@blendrak/contract';
import { InputError } from '../codecs';
import { MERGE_DEFAULTS, type MergeOptions } from '../pipeline';

/** As the command line gives them. */
export interface MergeWords {
  readonly projection?: string;
  /** False to keep what the crop would cut. */
  readonly crop?: boolean;
  readonly method?: string;
  /** File name of the frame whose geometry the merge takes. */
  readonly reference?: string;
  readonly model?: string;
  /** px by which local shifts may bend a straight line. */
  readonly bend?: string;
  /** File name of the frame whose sharp part is the subject. */
  readonly sharpPart?: string;
}

const STACK_METHODS = ['labels', 'reference', 'bands'] as const;
const BRACKET_METHODS = ['fusion', 'light'] as const;
const PROJECTIONS = ['auto', ...layoutSchema.options] as const;
const MODELS = alignmentOptionsSchema.shape.model.unwrap().options;
const MOST_BEND_PX = 20;

/**
 * @param names of the frames, in order
 * @throws InputError for a word, a number or a frame that is not known
 */
export function mergeOptions(words: MergeWords, names: readonly string[]): MergeOptions {
  const { projection = 'auto', crop = true, method, model = 'auto', bend = '0' } = words;
  const stack = STACK_METHODS.find((m) => m === method);
  const bracket = BRACKET_METHODS.find((m) => m === method);
  if (method !== undefined && !stack && !bracket)
    throw new InputError(
      '--method',
      `there is no method "${method}"`,
      `${STACK_METHODS.join(', ')} for focus stacks, ${BRACKET_METHODS.join(', ')} for brackets`,
    );
  const bendPx = Number(bend);
  if (bend.trim() === '' || !(bendPx >= 0 && bendPx <= MOST_BEND_PX))
    throw new InputError('--bend', `"${bend}" is no such number of px`, `0 to ${MOST_BEND_PX}`);
  return {
    ...MERGE_DEFAULTS,
    alignment: {
      reference: words.reference === undefined ? 'auto' : frameNamed('--reference', words.reference, names),
      model: oneOf('--model', 'model', model, MODELS),
      bendPx,
      subject: null,
    },
    stack: { ...MERGE_DEFAULTS.stack, ...(stack && { method: stack }) },
    panorama: {
      ...MERGE_DEFAULTS.panorama,
      projection: oneOf('--projection', 'projection', projection, PROJECTIONS),
      crop,
    },
    bracket: { ...MERGE_DEFAULTS.bracket, ...(bracket && { method: bracket }) },
  };
}

/** @throws InputError when no frame has that name */
export function frameNamed(option: string, name: string, names: readonly string[]): number {
  const index = names.indexOf(name);
  if (index < 0) throw new InputError(option, `there is no frame "${name}"`, names.join(', '));
  return index;
}

function oneOf<T extends string>(option: string, what: string, word: string, known: readonly T[]): T {
  const found = known.find((k) => k === word);
  if (found === undefined) throw new InputError(option, `there is no ${what} "${word}"`, known.join(', '));
  return found;
}
