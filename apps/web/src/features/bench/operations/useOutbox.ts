// The one outbox of this page: what goes into it, and what is in it.
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import type { OperationChange } from '@blendrak/contract';
import { PAGE_NAME } from '../../../shared/api';
import { newId } from '../../../shared/newId';
import { keepOperations, KEYS, knownRevision, type OperationList } from '../../../shared/queries';
import { useBench } from '../store';
import { foresee, type Foreseen } from './foresee';
import { openOutbox, type Outbox, type OutboxNews, type OutboxParts } from './outbox';
import { openDrawer } from './outboxDrawer';
import { sendUnsent } from './sendUnsent';
import { isOrder, type Unsent, type WorkOrder } from './unsent';

/** How saving stands. */
export type Saving = { readonly state: 'saved' } | { readonly state: 'saving' | 'retrying'; readonly count: number };

type Callbacks = Pick<OutboxParts, 'send' | 'onAnswer' | 'onRefused'> & { readonly onTrouble: () => void };

/** Of the page, however often the bench is opened on it. */
let opened: Promise<Outbox> | null = null;
let callbacks: Callbacks | null = null;

function openPageOutbox(): Promise<Outbox> {
  opened ??= openDrawer(() => callbacks?.onTrouble()).then((drawer) => {
    const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('blendrak-outbox');
    const outbox = openOutbox({
      drawer,
      send: (unsent) => callbacks!.send(unsent),
      alone: sendingAlone,
      tell: (news) => channel?.postMessage(news),
      onAnswer: (unsent, changes) => callbacks?.onAnswer(unsent, changes),
      onRefused: (unsent, words) => callbacks?.onRefused(unsent, words),
      onChange: (unsent, isAway) => useBench.getState().set({ unsent, isAway }),
    });
    channel?.addEventListener('message', ({ data }: MessageEvent<OutboxNews>) => outbox.hear(data));
    return outbox;
  });
  return opened;
}

/** Locks exist in secure pages only. Without them two pages may send the same: the server knows what comes twice. */
async function sendingAlone(work: () => Promise<void>): Promise<void> {
  if (typeof navigator === 'undefined' || !('locks' in navigator)) await work();
  else await navigator.locks.request('blendrak-outbox', work);
}

/** What is put on its way. */
export interface OutboxOf {
  /** @returns the change's name */
  readonly ask: (change: OperationChange) => string;
  /** For what the server works out before it is done. */
  readonly give: (order: WorkOrder) => void;
}

/**
 * Puts changes and orders of a merge on their way, in order.
 * @param complain is told, in words, what the server or the browser will not take
 */
export function useOutbox(mergeId: string, complain: (words: string) => void): OutboxOf {
  const client = useQueryClient();
  const told = useRef(false);
  useEffect(() => {
    callbacks = {
      send: (unsent) => sendUnsent(unsent, knownRevision(client, KEYS.operations(unsent.mergeId))),
      onAnswer: (unsent, changes) => keepOperations(client, unsent.mergeId, changes),
      onRefused: (_unsent, words) => complain(words),
      onTrouble: () => {
        if (!told.current)
          complain('This browser keeps nothing: strokes that are not saved yet last only as long as this page.');
        told.current = true;
      },
    };
    // What earlier pages left is sent, too.
    void openPageOutbox().then((outbox) => outbox.drain());
  }, [client, complain]);
  return useMemo(() => {
    const add = (asked: { readonly change: OperationChange } | { readonly order: WorkOrder }): string => {
      const unsent: Unsent = { id: newId(), mergeId, page: PAGE_NAME, ...asked };
      void openPageOutbox().then((outbox) => outbox.add(unsent));
      return unsent.id;
    };
    return { ask: (change) => add({ change }), give: (order) => void add({ order }) };
  }, [mergeId]);
}

/** Whether something of a merge is being worked out. */
export function useIsWorking(mergeId: string): boolean {
  return useBench((s) => !s.isAway && s.unsent.some((one) => one.mergeId === mergeId && isOrder(one)));
}

/** Operations of a merge with what is unsent done. */
export function useForeseen(mergeId: string, list: OperationList): Foreseen {
  const unsent = useBench((s) => s.unsent);
  return useMemo(() => {
    const own = unsent.filter((c) => c.mergeId === mergeId);
    return foresee(list, own);
  }, [list, mergeId, unsent]);
}

/** How saving of a merge stands. */
export function useSaving(mergeId: string): Saving {
  const unsent = useBench((s) => s.unsent);
  const isAway = useBench((s) => s.isAway);
  return useMemo(() => {
    const count = unsent.filter((c) => c.mergeId === mergeId).length;
    return count === 0 ? { state: 'saved' } : { state: isAway ? 'retrying' : 'saving', count };
  }, [isAway, mergeId, unsent]);
}
