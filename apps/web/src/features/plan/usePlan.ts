// One plan under work: read once, changed here, written back by itself a moment after each change.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Plan, PlanSheetRecord, PlanWrite } from '@blendrak/contract';
import { api, wordsOf } from '../../shared/api';
import { KEYS } from '../../shared/queries';
import { planApi } from './planApi';

const PAUSE_MS = 500;
export const PLAN_KEYS = {
  all: ['plans'] as const,
  one: (id: string) => ['plans', id] as const,
  kit: KEYS.kit,
};

export function usePlans() {
  return useQuery({ queryKey: PLAN_KEYS.all, queryFn: api.plans });
}

export function usePlan(id: string) {
  return useQuery({ queryKey: PLAN_KEYS.one(id), queryFn: () => planApi.plan(id) });
}

export function useKit() {
  return useQuery({ queryKey: PLAN_KEYS.kit, queryFn: planApi.kit });
}

/** Where the last change stands. */
export type SaveState = 'saved' | 'saving' | { readonly problem: string };

export interface PlanDraft {
  readonly name: string;
  readonly sheet: PlanSheetRecord;
  readonly state: SaveState;
  rename(name: string): void;
  change(sheet: PlanSheetRecord): void;
  /** Writes what is not written yet; resolves when it is. */
  flush(): Promise<void>;
}

/** Works on a plan that was read; the plan's id must stay the same for the life of the component. */
export function usePlanDraft(plan: Plan): PlanDraft {
  const client = useQueryClient();
  const [draft, setDraft] = useState<PlanWrite>({ name: plan.name, sheet: plan.sheet });
  const [state, setState] = useState<SaveState>('saved');
  const latest = useRef(draft);
  const dirty = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);

  const flush = useCallback(async () => {
    if (timer.current) clearTimeout(timer.current);
    timer.current = null;
    if (!dirty.current) return;
    dirty.current = false;
    setState('saving');
    try {
      const written = await planApi.changePlan(plan.id, latest.current);
      client.setQueryData(PLAN_KEYS.one(plan.id), written);
      await client.invalidateQueries({ queryKey: PLAN_KEYS.all, exact: true });
      setState(dirty.current ? 'saving' : 'saved');
    } catch (error) {
      dirty.current = true;
      setState({ problem: wordsOf(error) });
    }
  }, [client, plan.id]);

  const put = useCallback(
    (next: PlanWrite) => {
      latest.current = next;
      dirty.current = true;
      setDraft(next);
      setState('saving');
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [flush],
  );

  // Leaving the screen writes what is still waiting.
  useEffect(() => () => void flush(), [flush]);

  return {
    ...draft,
    state,
    rename: useCallback((name) => put({ ...latest.current, name }), [put]),
    change: useCallback((sheet) => put({ ...latest.current, sheet }), [put]),
    flush,
  };
}

/** Adds a plan and tells the list. */
export function useAddPlan(onDone: (plan: Plan) => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: planApi.addPlan,
    onSuccess: async (plan) => {
      client.setQueryData(PLAN_KEYS.one(plan.id), plan);
      await client.invalidateQueries({ queryKey: PLAN_KEYS.all, exact: true });
      onDone(plan);
    },
  });
}
