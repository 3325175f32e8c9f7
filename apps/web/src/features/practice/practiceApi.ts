// Exercises as the server makes, keeps and marks them.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import {
  exerciseSchema,
  pairsSchema,
  practiceSchema,
  type Answer,
  type Exercise,
  type ExerciseOrder,
  type PairAnswer,
} from '@blendrak/contract';
import { ask, askFor, json } from '../../shared/api';

const PRACTICE = ['practice'] as const;
const exerciseKey = (id: string) => ['practice', id] as const;
/** How often it is asked how far the camera is. */
const EVERY_MS = 1500;

const isBeingMade = ({ state }: Exercise): boolean => state === 'making';

export function usePractice() {
  return useQuery({
    queryKey: PRACTICE,
    queryFn: () => askFor(practiceSchema, '/api/practice'),
    refetchInterval: ({ state }) => (state.data?.exercises.some(isBeingMade) ? EVERY_MS : false),
  });
}

export function useExercise(id: string) {
  return useQuery({
    queryKey: exerciseKey(id),
    queryFn: () => askFor(exerciseSchema, `/api/practice/exercises/${id}`),
    refetchInterval: ({ state }) => (state.data && isBeingMade(state.data) ? EVERY_MS : false),
  });
}

export function useOrder() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (order: ExerciseOrder) => askFor(exerciseSchema, '/api/practice/exercises', json('POST', order)),
    onSuccess: () => client.invalidateQueries({ queryKey: PRACTICE }),
  });
}

/** Tells that an exercise is being solved, so that the next one is made meanwhile. */
export function useBegin(id: string) {
  return useMutation({ mutationFn: () => ask(`/api/practice/exercises/${id}/begin`, { method: 'POST' }) });
}

export function useAnswer(id: string) {
  return useSolving(id, (answer: Answer) =>
    askFor(exerciseSchema, `/api/practice/exercises/${id}/answer`, json('POST', answer)),
  );
}

/** Sizes of the pictures of an exercise that asks which of two. */
export function usePairs(id: string) {
  return useQuery({
    queryKey: [...exerciseKey(id), 'pairs'],
    queryFn: () => askFor(pairsSchema, `/api/practice/exercises/${id}/pairs`),
    staleTime: Infinity,
  });
}

export function pairPictureUrl(id: string, pair: number, side: 0 | 1): string {
  return `/api/practice/exercises/${id}/pairs/${pair}/${side}.png`;
}

export function useChoices(id: string) {
  return useSolving(id, (answer: PairAnswer) =>
    askFor(exerciseSchema, `/api/practice/exercises/${id}/pairs`, json('POST', answer)),
  );
}

/** Has one's own repair scored. */
export function useScoring(id: string) {
  return useSolving<void>(id, () => askFor(exerciseSchema, `/api/practice/exercises/${id}/repair`, { method: 'POST' }));
}

function useSolving<T>(id: string, mutationFn: (given: T) => Promise<Exercise>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: (exercise) => {
      client.setQueryData(exerciseKey(id), exercise);
      void client.invalidateQueries({ queryKey: PRACTICE, exact: true });
    },
  });
}

export function useRemoval() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => ask(`/api/practice/exercises/${id}`, { method: 'DELETE' }),
    onSuccess: () => client.invalidateQueries({ queryKey: PRACTICE }),
  });
}
