// Errors to RFC 9457 problem details, in words of our own: what is wrong and what is accepted. What the client did wrong is
// 4xx; what nobody foresaw is 500, and its words go to the log.
import type { ErrorRequestHandler, Request } from 'express';
import { MulterError } from 'multer';
import type { Logger } from 'pino';
import { z } from 'zod';
import type { Problem } from '@blendrak/contract';
import { ParameterError } from '@blendrak/core/checks';
import { fileLimitBytes, InputError } from '../codecs';
import { errorCode } from '../shared/errorCode';
import { inWords, isFull, NoRoomError } from '../shared/noRoom';
import { refusalWords } from '../shared/refusalWords';
import { RequestError } from '../shared/requestError';

/** Longest JSON body taken. */
export const BODY_LIMIT_BYTES = 4e6;

export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = toProblem(error, request);
    if (problem.status === 500) log.error({ err: error, url: request.url }, 'request failed');
    sendProblem(response, problem);
  };
}

/** A refusal as the client reads it. */
export function sendProblem(
  response: { status(code: number): { type(t: string): { send(body: string): unknown } } },
  problem: Problem,
): void {
  response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
}

export function makeProblem(status: number, title: string, detail: string): Problem {
  return { type: 'about:blank', title, status, detail };
}

function toProblem(error: unknown, request: Request): Problem {
  if (error instanceof RequestError)
    return makeProblem(error.status, 'The request cannot be carried out', error.message);
  if (error instanceof InputError) return makeProblem(422, 'The input cannot be used', error.message);
  if (error instanceof ParameterError) return makeProblem(400, 'A parameter is out of range', error.message);
  if (error instanceof z.ZodError) {
    // Bodies, queries and parts of the path are all checked: the value is looked for where it came from.
    const from = ['GET', 'HEAD', 'DELETE'].includes(request.method) ? request.query : (request.body as unknown);
    return makeProblem(400, 'The request does not have the expected form', refusalWords(error, from));
  }
  if (error instanceof MulterError) return uploadProblem(error);
  if (isFull(error)) {
    const words = error instanceof NoRoomError ? error.message : 'There is no room left on the disk for this.';
    return makeProblem(507, 'The disk is full', `${words} What was acknowledged before is kept.`);
  }
  return parserProblem(error) ?? unforeseen();
}

function uploadProblem(error: MulterError): Problem {
  const title = 'The upload cannot be taken';
  const accepted = `Accepted: one file of up to ${inWords(fileLimitBytes())} in the form field "file".`;
  if (error.code === 'LIMIT_FILE_SIZE') return makeProblem(413, title, `The file is too large. ${accepted}`);
  const field = error.field ? ` ("${error.field}")` : '';
  return makeProblem(400, title, `The form holds something else than one file${field}. ${accepted}`);
}

const UNREADABLE: Readonly<Record<string, readonly [number, string]>> = {
  'entity.parse.failed': [400, 'The body is no valid JSON. Accepted: JSON as the interface describes.'],
  'entity.too.large': [413, `The body is too large. Accepted: JSON of up to ${inWords(BODY_LIMIT_BYTES)}.`],
  'charset.unsupported': [415, 'The charset of the body is not read. Accepted: JSON in UTF-8.'],
  'encoding.unsupported': [415, 'The encoding of the body is not read. Accepted: none, gzip, deflate or br.'],
  'request.aborted': [400, 'The request ended before its body was complete. Accepted: complete requests.'],
  'request.size.invalid': [400, 'The body is not as long as the request says. Accepted: complete requests.'],
};

/** What the parsers of body, form and address stumble over; null for anything else. */
function parserProblem(error: unknown): Problem | null {
  if (!(error instanceof Error)) return null;
  const title = 'The request cannot be read';
  const known = 'type' in error && typeof error.type === 'string' ? UNREADABLE[error.type] : undefined;
  if (known) return makeProblem(known[0], title, known[1]);
  if (error instanceof URIError || (error.message.startsWith('Failed to decode param') && 'status' in error))
    return makeProblem(400, title, 'The address holds a "%" that encodes nothing. Accepted: UTF-8, percent-encoded.');
  if (errorCode(error) === 'ERR_INVALID_ARG_VALUE')
    return makeProblem(400, title, 'A name or path holds a zero byte. Accepted: names that a file can have.');
  if (/multipart|boundary|unexpected end of form|malformed part/i.test(error.message))
    return makeProblem(400, title, 'The form is not complete. Accepted: multipart/form-data with one file in "file".');
  const status = 'status' in error && typeof error.status === 'number' ? error.status : 500;
  if (status < 400 || status >= 500) return null;
  return makeProblem(
    status,
    title,
    'The request is not formed as HTTP has it. Accepted: requests as the interface describes.',
  );
}

function unforeseen(): Problem {
  const detail =
    'Something went wrong that is not foreseen; it stands in the server’s log. Nothing that was saved is lost.';
  return makeProblem(500, 'Something went wrong', detail);
}
