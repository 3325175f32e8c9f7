// Lessons of earlier jobs: for the log, and for plans.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { z } from 'zod';
import { lessonSchema, type Lesson } from '@blendrak/contract';
import { askFor, json } from './api';

const LESSONS = ['lessons'] as const;

export function useLessons() {
  return useQuery({ queryKey: LESSONS, queryFn: () => askFor(z.array(lessonSchema), '/api/log/lessons') });
}

export function useLessonChoice() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, state }: Pick<Lesson, 'id' | 'state'>) =>
      askFor(z.array(lessonSchema), `/api/log/lessons/${encodeURIComponent(id)}`, json('PUT', { state })),
    onSuccess: (lessons) => client.setQueryData(LESSONS, lessons),
  });
}
