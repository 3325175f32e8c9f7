// Errors to RFC 9457 problem details.
import type { ErrorRequestHandler } from 'express';
import { MulterError } from 'multer';
import type { Logger } from 'pino';
import { z } from 'zod';
import type { Problem } from '@blendrak/contract';
import { ParameterError } from '@blendrak/core/checks';
import { fileLimitBytes, InputError } from '../codecs';
import { RequestError } from '../shared/requestError';

export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = toProblem(error);
    if (problem.status >= 500) log.error({ error, url: request.url }, 'request failed');
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  };
}

function toProblem(error: unknown): Problem {
  const make = (status: number, title: string, detail: string): Problem => ({
    type: 'about:blank',
    title,
    status,
    detail,
  });
  if (error instanceof RequestError) return make(error.status, 'The request cannot be carried out', error.message);
  if (error instanceof InputError) return make(422, 'The input cannot be used', error.message);
  if (error instanceof ParameterError) return make(400, 'A parameter is out of range', error.message);
  if (error instanceof z.ZodError) {
    const issue = error.issues[0]!;
    return make(
      400,
      'The request does not have the expected form',
      `${issue.path.join('.') || 'body'}: ${issue.message}`,
    );
  }
  if (error instanceof MulterError) {
    const limit = `${Math.round(fileLimitBytes() / 1e6)} MB`;
    const detail =
      error.code === 'LIMIT_FILE_SIZE' ? `The file is too large. Accepted: files up to ${limit}.` : error.message;
    return make(413, 'The upload cannot be taken', detail);
  }
  if (error instanceof Error && 'code' in error && error.code === 'ENOSPC') {
    return make(507, 'The disk is full', 'There is no room left for this file. What was uploaded before is kept.');
  }
  return make(500, 'Something went wrong', error instanceof Error ? error.message : String(error));
}
