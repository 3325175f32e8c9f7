// What a value of the wrong form is told, in words of our own: where it stands, what came, what is accepted.
import type { z } from 'zod';

type Issue = z.core.$ZodIssue;

/** The first thing that is wrong with a value. */
export interface FormRefusal {
  /** Path of the field. */
  readonly where: string;
  /** What is wrong with what came. */
  readonly problem: string;
  readonly accepted: string;
}

/** What a value of the wrong form is told. */
export function formRefusal({ issues }: z.ZodError, value: unknown): FormRefusal {
  const issue = issues[0]!;
  const path = issue.path.map(String);
  const where = path.join('.') || 'the body';
  const received = path.reduce<unknown>((v, key) => (v as Record<string, unknown> | null | undefined)?.[key], value);
  if (issue.code === 'unrecognized_keys')
    return {
      where,
      problem: `${issue.keys.join(', ')} is not known here`,
      accepted: 'only the fields that the interface describes',
    };
  // Rules of our own come with words of their own; the library's are not for people.
  const own = !LIBRARY_WORDS.test(issue.message);
  return { where, problem: `received ${shown(received)}`, accepted: own ? issue.message : acceptedOf(issue) };
}

/** The same as a sentence. */
export function refusalWords(error: z.ZodError, value: unknown): string {
  const { where, problem, accepted } = formRefusal(error, value);
  return `${where}: ${problem}. Accepted: ${accepted.replace(/\.$/, '')}.`;
}

const LIBRARY_WORDS = /^(Invalid|Too (small|big)|Unrecognized)/;

function acceptedOf(issue: Issue): string {
  switch (issue.code) {
    case 'invalid_type':
      return KINDS[issue.expected] ?? issue.expected;
    case 'invalid_value':
      return issue.values.map(String).join(', ');
    case 'too_small':
      return `${amount(issue.origin)}${issue.inclusive === false ? 'more than' : 'at least'} ${String(issue.minimum)}`;
    case 'too_big':
      return `${amount(issue.origin)}${issue.inclusive === false ? 'less than' : 'at most'} ${String(issue.maximum)}`;
    case 'invalid_format':
      return `a text of the form ${issue.format}`;
    case 'not_multiple_of':
      return `multiples of ${issue.divisor}`;
    case 'invalid_union':
      return unionWords(issue.errors);
    default:
      return 'what the interface describes';
  }
}

/** What one of several forms would have accepted, each named once. */
function unionWords(forms: readonly (readonly Issue[])[]): string {
  const words = forms.flatMap(([first]) => (first ? [acceptedOf(first)] : []));
  return [...new Set(words)].join(', or ') || 'one of the forms that the interface describes';
}

const KINDS: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'an object with named fields',
  record: 'an object with named fields',
  null: 'null',
  nan: 'a number',
};

function amount(origin: string): string {
  if (origin === 'string') return 'a length of ';
  return origin === 'array' || origin === 'set' ? 'a number of entries of ' : '';
}

const MOST_SHOWN = 60;

function shown(value: unknown): string {
  if (value === undefined) return 'nothing';
  const text = typeof value === 'number' ? String(value) : (JSON.stringify(value) ?? typeof value);
  return text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)}…` : text;
}
