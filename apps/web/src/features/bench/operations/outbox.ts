// The outbox: what people ask of operations, and what they draw for the server to work out, waits here, in one order for all pages of a
// browser, until the server has acknowledged it. It outlives pages and restarts; whichever page has time sends, one at a time.
import type { OperationChanges } from '@blendrak/contract';
import { ServerProblem } from '../../../shared/api';
import type { OutboxDrawer } from './outboxDrawer';
import { isOrder, type Unsent } from './unsent';

/** What pages of a browser tell each other of their common outbox. */
export type OutboxNews =
  { readonly kind: 'changed' } | { readonly kind: 'refused'; readonly unsent: Unsent; readonly words: string };

export interface OutboxParts {
  readonly drawer: OutboxDrawer;
  send(unsent: Unsent): Promise<OperationChanges>;
  /** Runs work while no other page does. */
  alone(work: () => Promise<void>): Promise<void>;
  /** Tells the other pages. */
  tell(news: OutboxNews): void;
  onAnswer(unsent: Unsent, changes: OperationChanges): void;
  /** The server will never take it: it has been let go. */
  onRefused(unsent: Unsent, words: string): void;
  /** Called with all that is unsent, whenever that or how sending stands has changed. */
  onChange(unsent: readonly Unsent[], isAway: boolean): void;
  /** After how long to try again while the server is away. */
  readonly retryMs?: number;
}

export interface Outbox {
  /** Takes a change in; it is on its way from now on. */
  add(change: Unsent): void;
  /** What another page told. */
  hear(news: OutboxNews): void;
  /** Sends what is there; resolves when nothing more can be done now. */
  drain(): Promise<void>;
}

const RETRY_MS = 1500;

/** Answers after which sending the same again is of no use. */
const FINAL = new Set([400, 404, 409, 413, 422]);
/** A server that starts, or makes room. */
const UNAVAILABLE = 503;

/**
 * Whether sending the same again is of no use. What is to be worked out would hold up all that comes behind it: it is sent again only while
 * nobody is there.
 */
function isFinal(unsent: Unsent, error: ServerProblem): boolean {
  return FINAL.has(error.status) || (isOrder(unsent) && error.status !== 0 && error.status !== UNAVAILABLE);
}

export function openOutbox(parts: OutboxParts): Outbox {
  const { drawer, retryMs = RETRY_MS } = parts;
  /** In the drawer, as far as known, and on its way into it. */
  let kept: readonly Unsent[] = [];
  let entering: readonly Unsent[] = [];
  let isAway = false;
  let draining: Promise<void> | null = null;
  let asked = false;

  const tellHere = (): void => {
    const inDrawer = new Set(kept.map((c) => c.id));
    parts.onChange([...kept, ...entering.filter((c) => !inDrawer.has(c.id))], isAway);
  };
  const look = async (): Promise<void> => {
    kept = await drawer.all();
    tellHere();
  };
  const setAway = (away: boolean): void => {
    if (isAway === away) return;
    isAway = away;
    tellHere();
  };

  /** Sends the oldest; false when there is none, or the server is away. */
  const sendNext = async (): Promise<boolean> => {
    const next = await drawer.first();
    if (!next) return false;
    try {
      const changes = await parts.send(next);
      setAway(false);
      await drawer.drop(next.id);
      // What is answered and what is unsent change together: an undo counted in both would leave nothing to take back for a moment.
      kept = kept.filter((c) => c.id !== next.id);
      entering = entering.filter((c) => c.id !== next.id);
      parts.onAnswer(next, changes);
      tellHere();
    } catch (error) {
      if (!(error instanceof ServerProblem && isFinal(next, error))) {
        setAway(true);
        setTimeout(() => void drain(), retryMs);
        if (error instanceof ServerProblem) return false;
        throw error;
      }
      await drawer.drop(next.id);
      parts.onRefused(next, error.message);
      parts.tell({ kind: 'refused', unsent: next, words: error.message });
    }
    await look();
    parts.tell({ kind: 'changed' });
    return true;
  };
  const drain = (): Promise<void> => {
    asked = true;
    draining ??= (async () => {
      while (asked) {
        asked = false;
        await parts.alone(async () => {
          while (await sendNext());
        });
      }
    })().finally(() => {
      draining = null;
    });
    return draining;
  };

  return {
    drain,
    add(change) {
      entering = [...entering, change];
      tellHere();
      void drawer.add(change).then(async () => {
        // It stays on its way until it has been seen in the drawer: an answer that comes meanwhile tells what is unsent.
        kept = await drawer.all();
        entering = entering.filter((c) => c !== change);
        tellHere();
        parts.tell({ kind: 'changed' });
        await drain();
      });
    },
    hear(news) {
      if (news.kind === 'refused') parts.onRefused(news.unsent, news.words);
      void look();
    },
  };
}
