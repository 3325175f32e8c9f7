// Names of delivered files: a pattern with words in braces that are filled in.
import { RequestError } from '../../shared/requestError';

/** What can be filled in. */
export interface NameFacts {
  readonly job: string;
  readonly merge: string;
  readonly kind: string;
  /** Day of the signature, 2026-11-29. */
  readonly date: string;
  /** Who signed. */
  readonly by: string;
}

const WORDS = ['job', 'merge', 'kind', 'date', 'by'] as const satisfies readonly (keyof NameFacts)[];
const ACCEPTED = WORDS.map((word) => `{${word}}`).join(', ');
/** Longest name that file systems take everywhere, with room for an ending. */
const MOST_LETTERS = 100;

/**
 * Fills a pattern in.
 * @returns a name that every file system takes, without ending
 * @throws RequestError for a word in braces that is none, or a name of nothing
 */
export function fillPattern(pattern: string, facts: NameFacts): string {
  const filled = pattern.replace(/\{([^{}]*)\}/g, (_all, word: string) => {
    const known = WORDS.find((w) => w === word);
    if (!known) throw new RequestError(400, `pattern: {${word}} cannot be filled in. Accepted: ${ACCEPTED}.`);
    return facts[known];
  });
  const name = filled
    .replace(/[^\p{L}\p{N} .,_-]/gu, '_')
    .replace(/^[ .]+|[ .]+$/g, '')
    .slice(0, MOST_LETTERS);
  if (name === '')
    throw new RequestError(400, `pattern: "${pattern}" gives no name. Accepted: letters, digits and ${ACCEPTED}.`);
  return name;
}
