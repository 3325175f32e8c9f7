// Exercises: merges with hidden defects from the simulated camera, made in the background, answered and marked.
import { randomInt } from 'node:crypto';
import {
  shootOrderSchema,
  type Answer,
  type Exercise,
  type ExerciseOrder,
  type Finding,
  type PairAnswer,
  type Practice,
  type ShootOrder,
  type ShootSubject,
  type Solution,
  type Truth,
} from '@blendrak/contract';
import { canHave } from '@blendrak/core/inspect';
import { LEVELS, markAnswers, placeOfFault, type LearnersMark } from '@blendrak/core/learn';
import { RequestError } from '../../shared/requestError';
import { checkOrder, shootMenu } from '../camera';
import { newId, type Services } from '../context';
import { removeJob } from '../jobsService';
import { solvePairs } from './pairs';
import { levelOf, pairProgressOf, placesOf, progressOf } from './progress';
import { cellsOf, hiddenFaults, truthOf } from './truthOf';

const SUBJECTS: Readonly<Record<ExerciseOrder['kind'], readonly ShootSubject[]>> = {
  'focus-stack': ['gear-train', 'signal-flags'],
  panorama: ['cove'],
  bracket: ['lamp-room'],
};
/** Longer side of an exercise's frames, px: quick to make, and large enough to have to be looked through; smaller for tests. */
function exerciseWidth(): number {
  return Number(process.env['BLENDRAK_PRACTICE_WIDTH'] ?? 1200);
}

/** What an exercise's scene, frames and defects are drawn from: another one each time; tests name one, and see the same twice. */
function exerciseSeed(): number {
  const named = process.env['BLENDRAK_PRACTICE_SEED'];
  return named === undefined ? randomInt(2 ** 31 - 1) : Number(named);
}

/** Frames of a stack: more only take longer. */
const MOST_FRAMES = 8;
/** Answered exercises that are kept to be looked at again. */
const KEPT_ANSWERED = 3;
/** Exercises that wait or are made at a time: one to solve and one for afterwards. */
const MOST_WAITING = 3;
/** Specks on the sensor where dust is among what is asked for. */
const SPECKS = 6;
/** Side of the squares in which false alarms are counted, px. */
const NOISE_PX = 128;

/**
 * Orders an exercise; the camera makes it in the background.
 * @throws RequestError for defects that no merge of the kind can have, or when enough wait already
 */
export function orderExercise(services: Services, order: ExerciseOrder): Exercise {
  const { storage, events } = services;
  const strange = order.defects.find((defect) => !canHave(order.kind, defect));
  if (strange)
    throw new RequestError(
      400,
      `defects: a ${order.kind.replace('-', ' ')} has no ${strange}. Choose others, or none for all.`,
    );
  const waiting = storage.exercises.ids().filter((id) => !storage.exercises.solutionOf(id));
  if (waiting.length >= MOST_WAITING)
    throw new RequestError(409, `${waiting.length} exercises are waiting already: solve or remove one first.`);
  const id = newId();
  const shoot = shootOf(order, LEVELS[levelOf(storage.exercises.solutions(), order)]!);
  checkOrder(shoot);
  storage.transaction(() => {
    storage.jobs.insert({ id, name: `Exercise ${id}`, kind: order.kind, created_at: new Date().toISOString() });
    storage.exercises.insert(id, order);
    storage.work.insert(newId(), id, 'shoot', shoot);
  });
  events.publish({ topic: 'job', id });
  return describe(services, id);
}

function shootOf({ kind, defects }: ExerciseOrder, subtle: number): ShootOrder {
  const subjects = SUBJECTS[kind];
  const seed = exerciseSeed();
  const subject = subjects[seed % subjects.length]!;
  const menu = shootMenu().find((entry) => entry.subject === subject)!;
  const wantsDust = defects.includes('dust');
  return shootOrderSchema.parse({
    ...{ name: 'Exercise', subject, seed, longSidePx: exerciseWidth() },
    frames: kind === 'focus-stack' ? MOST_FRAMES : menu.frames,
    settings: { ...menu.settings, wind: 0.8, dust: wantsDust ? SPECKS : 0 },
    ...{ format: 'jpeg', bits: 8, separator: false, mergeElsewhere: true },
    seeded: { defects, subtle },
  });
}

/** All exercises and how the learner does. */
export function openPractice(services: Services): Practice {
  const { storage } = services;
  const solutions = storage.exercises.solutions();
  return {
    exercises: storage.exercises.ids().map((id) => describe(services, id)),
    progress: progressOf(solutions),
    pairs: pairProgressOf(solutions),
    places: placesOf(solutions),
  };
}

export function requireExercise({ storage }: Services, id: string): ExerciseOrder {
  const order = storage.exercises.orderOf(id);
  if (!order) throw new RequestError(404, `There is no exercise ${id} (any more).`);
  return order;
}

export function openExercise(services: Services, id: string): Exercise {
  requireExercise(services, id);
  return describe(services, id);
}

function describe({ storage }: Services, id: string): Exercise {
  const order = storage.exercises.orderOf(id)!;
  const head = storage.merges.headOf(id);
  const solved = storage.exercises.solutionOf(id);
  const work = storage.work.listByJob(id);
  const failed = work.find((w) => w.status === 'failed' || w.status === 'cancelled');
  const active = work.filter((w) => w.kind !== 'intake' && w.status !== 'done').at(-1);
  const state = solved ? 'answered' : head ? 'ready' : failed ? 'failed' : 'making';
  return {
    ...{ id, order, state, mergeId: head?.id ?? null, solution: solved?.solution ?? null },
    progress: head ? 1 : (active?.progress ?? 0),
    message: failed?.error ?? active?.message ?? '',
    createdAt: storage.jobs.find(id)!.created_at,
  };
}

/** Says that an exercise is being solved: the next one like it is made meanwhile, unless others wait already. */
export function beginExercise(services: Services, id: string): void {
  const { storage } = services;
  const order = requireExercise(services, id);
  if (storage.exercises.solutionOf(id)) return;
  const others = storage.exercises.ids().filter((other) => other !== id && !storage.exercises.solutionOf(other));
  if (others.length === 0) orderExercise(services, order);
}

export function removeExercise(services: Services, id: string): void {
  requireExercise(services, id);
  removeJob(services, id);
}

/**
 * Marks an answer against the truth, and what the inspection found beside it.
 * @throws RequestError for an exercise that is not ready, or was answered
 */
export function answerExercise(services: Services, id: string, { marks, tookS }: Answer): Exercise {
  const { storage, merges } = services;
  const mergeId = requireUnanswered(services, id, 'find');
  const body = merges.body(mergeId);
  const truth = truthOf(services, id);
  const names = body.frames.map((f) => f.fileName);
  const found = storage.findings.listByMerge(mergeId);
  const solution = solve(truth, body, marks, tookS, found, names);
  const noises = noisesOf(truth, body);
  return keepSolution(services, id, solution, noises);
}

/** Marks which of two pictures a learner took for the flawed one. */
export function answerPairs(services: Services, id: string, { choices, tookS }: PairAnswer): Exercise {
  requireUnanswered(services, id, 'which');
  const pairs = solvePairs(services, id, choices);
  const cellPx = truthOf(services, id).cellPx;
  const solution = { marks: [], faults: [], invented: [], tookS, cellPx, pairs, repair: null };
  return keepSolution(services, id, solution, 0);
}

/** @throws RequestError for an exercise that asks for something else, was answered, or is not ready */
function requireUnanswered({ storage, ...services }: Services, id: string, task: ExerciseOrder['task']): string {
  const order = requireExercise({ storage, ...services }, id);
  if (order.task !== task)
    throw new RequestError(409, `This exercise asks ${TASKS[order.task]}. Accepted: an answer to that.`);
  if (storage.exercises.solutionOf(id))
    throw new RequestError(409, 'This exercise was answered already: an answer stands, order another exercise.');
  const head = storage.merges.headOf(id);
  if (!head) throw new RequestError(409, 'This exercise is still being made.');
  return head.id;
}

const TASKS: Readonly<Record<ExerciseOrder['task'], string>> = {
  find: 'to find and name what is hidden',
  which: 'which of two pictures is flawed',
};

function keepSolution(services: Services, id: string, solution: Solution, noises: number): Exercise {
  const { storage } = services;
  storage.transaction(() => storage.exercises.solve({ jobId: id, at: new Date().toISOString(), noises, solution }));
  // Exercises are large: of those that were answered the last few stay; what came of the others is counted for good.
  const answered = storage.exercises.ids().filter((other) => storage.exercises.solutionOf(other));
  answered.slice(KEPT_ANSWERED).forEach((old) => removeJob(services, old));
  services.events.publish({ topic: 'job', id });
  return describe(services, id);
}

function solve(
  truth: Truth,
  size: { readonly width: number; readonly height: number },
  marks: Answer['marks'],
  tookS: number,
  found: readonly Finding[],
  names: readonly string[],
): Solution {
  const { cellPx } = truth;
  const [columns, rows] = [Math.floor(size.width / cellPx), Math.floor(size.height / cellPx)];
  const hidden = hiddenFaults(truth);
  const natural = truth.faults.filter((f) => f.natural).flatMap((f) => cellsOf(f.runs));
  const spared = new Set([...natural, ...cellsOf(truth.unavoidable), ...cellsOf(truth.faint)]);
  const own = markAnswers(size, cellPx, hidden, marks, spared);
  const inspected = found.map((f): LearnersMark => ({
    ...{ polygon: f.polygon, defect: f.defect },
    donor: f.donor === null ? null : (names[f.donor] ?? null),
  }));
  const theirs = markAnswers(size, cellPx, hidden, inspected, spared);
  return {
    ...{ marks, tookS, cellPx, invented: [...own.invented], pairs: [], repair: null },
    faults: hidden.map((fault, k) => {
      const { mark, isNamed, isDonorRight } = own.faults[k]!;
      const by = theirs.faults[k]!.mark;
      return {
        ...{ defect: fault.defect, isPlain: fault.plain, donors: fault.donors, mark, isNamed, isDonorRight },
        rows: fault.runs.flatMap(([start, n]) => rowsOf(start, n, columns, cellPx)),
        place: placeOfFault(fault.cells, columns, rows),
        inspection: by === null ? null : found[by]!.defect,
      };
    }),
  };
}

/** A run of cells as a row of px; runs go on in the next row where one ends. */
function rowsOf(start: number, n: number, columns: number, cellPx: number): [number, number, number][] {
  const made: [number, number, number][] = [];
  for (let at = start; at < start + n;) {
    const row = Math.floor(at / columns);
    const end = Math.min(start + n, (row + 1) * columns);
    made.push([(at % columns) * cellPx, row * cellPx, (end - at) * cellPx]);
    at = end;
  }
  return made;
}

/** Squares of the picture that hold no fault at all. */
function noisesOf(truth: Truth, { width, height }: { readonly width: number; readonly height: number }): number {
  const { cellPx } = truth;
  const columns = Math.floor(width / cellPx);
  const across = Math.ceil(width / NOISE_PX);
  const taken = new Set<number>();
  for (const cell of truth.faults.flatMap((f) => cellsOf(f.runs))) {
    const [x, y] = [(cell % columns) * cellPx, Math.floor(cell / columns) * cellPx];
    taken.add(Math.floor(y / NOISE_PX) * across + Math.floor(x / NOISE_PX));
  }
  return Math.max(1, across * Math.ceil(height / NOISE_PX) - taken.size);
}
