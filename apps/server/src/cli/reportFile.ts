// Report files as the command line reads them back.
import { readFileSync } from 'node:fs';
import { reportSchema, type Report } from '@blendrak/contract';
import { InputError } from '../codecs';

/**
 * Reads a report.
 * @throws InputError for what is none, naming the file and what is wrong with it
 */
export function readReport(path: string): Report {
  const accepted = 'a report that inspect or tree wrote';
  const read = parsedFile(path);
  if (read === null) throw new InputError(path, 'it cannot be read as JSON', accepted);
  const report = reportSchema.safeParse(read);
  if (report.success) return report.data;
  const [issue] = report.error.issues;
  throw new InputError(path, `${issue!.path.join('.')}: ${issue!.message}`, accepted);
}

/** What a JSON file holds; null for what is none, or not there. */
export function parsedFile(path: string): unknown {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    // Whoever reads it says what was to be there.
    return null;
  }
}
