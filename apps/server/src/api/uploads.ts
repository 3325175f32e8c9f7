// What an upload carries.
import type { Request } from 'express';
import { RequestError } from '../shared/requestError';

export interface Upload {
  readonly temporaryPath: string;
  readonly name: string;
  readonly sizeBytes: number;
}

/** @throws RequestError when the form carries no file */
export function uploadOf({ file }: Request): Upload {
  if (!file) throw new RequestError(400, 'file: a picture file is expected in the form field "file".');
  // Browsers send names as UTF-8, the form parser reads them as Latin-1.
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8');
  return { temporaryPath: file.path, name, sizeBytes: file.size };
}
