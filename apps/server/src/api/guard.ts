// Who may ask: requests to an address that this server has, from its own pages, with the word that the start printed where
// one is needed. Pages of other sites may neither write nor read.
import { timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler, Response } from 'express';
import { RequestError } from '../shared/requestError';

export interface GuardOptions {
  /** Hosts with port under which this server is known, in lower case. */
  readonly hosts: ReadonlySet<string>;
  /** Needed by everyone when the server listens beyond this machine; null when it does not. */
  readonly token: string | null;
  /** Whether pages of other sites may read tiles. */
  readonly shareTiles: boolean;
}

/** All checks, in order. */
export function guard({ hosts, token, shareTiles }: GuardOptions): RequestHandler[] {
  return [checkHost(hosts), checkOrigin(shareTiles), ...(token ? [checkToken(token)] : []), checkBody];
}

/** A page of another site cannot make up a name for this machine and read here under it. */
function checkHost(hosts: ReadonlySet<string>): RequestHandler {
  return (request, _response, next) => {
    const host = (request.headers.host ?? '').toLowerCase();
    if (!hosts.has(host))
      throw new RequestError(421, `The host "${host}" is not this server’s. Accepted: ${[...hosts].join(', ')}.`);
    next();
  };
}

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

function checkOrigin(shareTiles: boolean): RequestHandler {
  return (request, response, next) => {
    const site = request.headers['sec-fetch-site'];
    const foreignSite = site !== undefined && site !== 'same-origin' && site !== 'none';
    const origin = request.headers.origin;
    const foreignOrigin =
      origin !== undefined && origin.toLowerCase() !== `http://${request.headers.host!.toLowerCase()}`;
    const isTile = request.path.startsWith('/iiif/');
    if (isTile && shareTiles && READING.has(request.method)) {
      response.setHeader('Access-Control-Allow-Origin', '*');
      response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
    } else if (foreignSite || foreignOrigin) {
      // A link from elsewhere may open the interface; it may not make it do or tell anything.
      const opensPage = READING.has(request.method) && !isTile && !request.path.startsWith('/api');
      if (!opensPage)
        throw new RequestError(
          403,
          `Pages of other sites may not use this server (from ${origin ?? site}). Accepted: its own pages.`,
        );
    }
    next();
  };
}

/** The word is given once in the address, as the start prints it, and kept in a cookie from then on. */
function checkToken(token: string): RequestHandler {
  return (request, response, next) => {
    const name = `blendrak-${request.socket.localPort ?? 0}`;
    const given = request.query['token'];
    if (typeof given === 'string' && isSame(given, token)) {
      response.cookie(name, token, { httpOnly: true, sameSite: 'strict', path: '/' });
      if (READING.has(request.method) && wantsPage(request)) {
        redirectWithout(request, response);
        return;
      }
      next();
      return;
    }
    const bearer = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
    const cookies = (request.headers.cookie ?? '').split(/;\s*/);
    const kept = cookies.find((c) => c.startsWith(`${name}=`))?.slice(name.length + 1);
    if (![bearer, kept].some((word) => word !== undefined && isSame(word, token)))
      throw new RequestError(
        401,
        'This server listens beyond its own machine and wants its token. Accepted: the address that its start printed.',
      );
    next();
  };
}

function wantsPage(request: Request): boolean {
  return !request.path.startsWith('/api') && !request.path.startsWith('/iiif');
}

/** The word does not stay in the address, where it would be seen and passed on. */
function redirectWithout(request: Request, response: Response): void {
  const url = new URL(request.originalUrl, 'http://here');
  url.searchParams.delete('token');
  response.redirect(302, url.pathname + url.search);
}

function isSame(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}

/** Forms that a foreign page could send without being asked are not read. */
const checkBody: RequestHandler = (request, _response, next) => {
  const { 'content-length': length, 'transfer-encoding': transfer, 'content-type': type = '' } = request.headers;
  const hasBody = transfer !== undefined || Number(length ?? 0) > 0;
  if (hasBody && !/^(application\/json|multipart\/form-data)\s*(;|$)/i.test(type))
    throw new RequestError(
      415,
      `Bodies of type "${type}" are not read. Accepted: application/json, or multipart/form-data for files.`,
    );
  next();
};
