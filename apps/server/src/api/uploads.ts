// Uploads: one file a request, received into the scratch folder; what is not taken in the end is removed again at once.
import { rm } from 'node:fs/promises';
import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { fileLimitBytes } from '../codecs';
import { KEEP_FREE_BYTES, NoRoomError } from '../shared/noRoom';
import { RequestError } from '../shared/requestError';
import type { Storage } from '../storage';

export interface Upload {
  readonly temporaryPath: string;
  readonly name: string;
  readonly sizeBytes: number;
}

/**
 * Receives a file.
 * @param check throws when there is nothing that the file could belong to, before it is received
 */
export function receiveFile({ folder }: Storage, check: (request: Request) => void): RequestHandler[] {
  const storage = multer.diskStorage({
    destination: folder.scratch,
    filename: (_request, _file, done) => done(null, folder.scratchFile('.upload').slice(folder.scratch.length + 1)),
  });
  const upload = multer({ storage, limits: { fileSize: fileLimitBytes(), files: 1, fields: 8, fieldSize: 1000 } });
  const before: RequestHandler = (request, _response, next) => {
    check(request);
    const expected = Number(request.headers['content-length'] ?? 0);
    const free = folder.freeBytes();
    if (expected + KEEP_FREE_BYTES > free) throw new NoRoomError('this upload', expected + KEEP_FREE_BYTES, free);
    next();
  };
  const after: RequestHandler = (request, response, next) => {
    // Whoever takes the file moves it away; what still lies there when all is said was refused.
    response.once('close', () => {
      const path = request.file?.path;
      if (path) void rm(path, { force: true });
    });
    next();
  };
  return [before, upload.single('file'), after];
}

/** @throws RequestError when the form carries no file, or a name that no file can have */
export function uploadOf({ file }: Request): Upload {
  if (!file) throw new RequestError(400, 'file: a picture file is expected in the form field "file".');
  // Browsers send names as UTF-8, the form parser reads them as Latin-1.
  const name = Buffer.from(file.originalname, 'latin1').toString('utf8');
  if (name.includes('\0'))
    throw new RequestError(400, 'file: its name holds a zero byte. Accepted: names that a file can have.');
  return { temporaryPath: file.path, name, sizeBytes: file.size };
}
