// An exercise: the picture without its queue; the learner points, names and chooses a donor, then the answer is laid over.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { DefectWord, Exercise, LearnersMarkRecord, Merge, Solution } from '@blendrak/contract';
import { canHave, DEFECTS } from '@blendrak/core/inspect';
import { GREY, MONO } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';
import { useMerge } from '../../shared/queries';
import { showing } from '../../viewer/camera';
import type { DeepView } from '../../viewer/deepView';
import { ExercisePicture, type Outline } from './ExercisePicture';
import { MarkList } from './MarkList';
import { RepairIt } from './RepairIt';
import { WhichOfTwo } from './WhichOfTwo';
import { useAnswer, useBegin, useExercise } from './practiceApi';
import { faultWords, solutionWords } from './solutionWords';

export function ExerciseScreen() {
  const { exerciseId = '' } = useParams();
  const exercise = useExercise(exerciseId);
  const merge = useMerge(exercise.data?.mergeId);
  const trouble = exercise.error ?? merge.error;
  if (trouble)
    return (
      <Typography sx={{ p: 3 }} color="error">
        {wordsOf(trouble)}
      </Typography>
    );
  if (!exercise.data || (exercise.data.mergeId !== null && !merge.data))
    return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (!merge.data)
    return (
      <Box sx={{ p: 3, maxWidth: 480 }}>
        <Typography sx={{ mb: 1 }}>
          {exercise.data.state === 'failed'
            ? `It could not be made: ${exercise.data.message}`
            : 'The camera is making this exercise.'}
        </Typography>
        {exercise.data.state === 'making' && (
          <LinearProgress aria-label="Making the exercise" variant="determinate" value={100 * exercise.data.progress} />
        )}
      </Box>
    );
  if (exercise.data.order.task === 'which') return <WhichOfTwo key={exercise.data.id} exercise={exercise.data} />;
  return <Solving key={exercise.data.id} exercise={exercise.data} merge={merge.data} />;
}

function Solving({ exercise, merge }: { readonly exercise: Exercise; readonly merge: Merge }) {
  const { solution, order } = exercise;
  const [own, setOwn] = useState<readonly LearnersMarkRecord[]>([]);
  const [chosen, setChosen] = useState<number | null>(null);
  const [frame, setFrame] = useState<number | null>(null);
  const [deep, setDeep] = useState<DeepView | null>(null);
  const [began] = useState(() => Date.now());
  const answer = useAnswer(exercise.id);
  const { mutate: begin } = useBegin(exercise.id);
  useEffect(() => {
    if (!solution) begin();
  }, [begin, solution]);
  const marks = solution?.marks ?? own;
  const defects = DEFECTS.filter(
    (d) => canHave(merge.kind, d) && (order.defects.length === 0 || order.defects.includes(d)),
  );
  const [last, setLast] = useState<DefectWord>(defects[0]!);
  const give = useCallback(
    () => answer.mutate({ marks: [...own], tookS: (Date.now() - began) / 1000 }),
    [answer, began, own],
  );
  const add = (polygon: Outline): void => {
    setOwn([...own, { polygon, defect: last, donor: null }]);
    setChosen(own.length);
  };
  const change = (k: number, part: Partial<LearnersMarkRecord>): void => {
    setOwn(own.map((mark, n) => (n === k ? { ...mark, ...part } : mark)));
    if (part.defect) setLast(part.defect);
  };
  return (
    <Box sx={{ height: '100%', display: 'flex' }}>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        <Looks {...{ merge, frame, deep }} onFrame={setFrame} />
        <Box sx={{ flex: 1, position: 'relative', bgcolor: '#777', overflow: 'hidden' }}>
          <ExercisePicture
            {...{ merge, frame, marks, chosen, solution }}
            onMark={solution ? null : add}
            onReady={setDeep}
          />
        </Box>
      </Box>
      <Box
        component="aside"
        aria-label="Exercise"
        sx={{
          width: 400,
          flex: 'none',
          borderLeft: `1px solid ${GREY.rule}`,
          p: 2,
          overflow: 'auto',
          display: 'grid',
          gap: 2,
          alignContent: 'start',
        }}
      >
        <Box sx={{ display: 'flex', alignItems: 'baseline' }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            {solution ? 'The answer' : 'What is wrong with it?'}
          </Typography>
          {!solution && <Clock began={began} limitS={order.timeLimitS} onOver={give} />}
        </Box>
        {solution ? (
          <Solved exerciseId={exercise.id} solution={solution} />
        ) : (
          <>
            <MarkList
              {...{ marks, defects, chosen }}
              frames={merge.frames.map((f) => f.fileName)}
              onChoose={setChosen}
              onChange={change}
              onRemove={(k) => {
                setOwn(own.filter((_, n) => n !== k));
                setChosen(null);
              }}
            />
            {answer.error && (
              <Typography role="alert" color="error" variant="body2">
                {wordsOf(answer.error)}
              </Typography>
            )}
            <Button variant="contained" onClick={give} disabled={answer.isPending} sx={{ justifySelf: 'start' }}>
              {own.length === 0 ? 'Nothing is wrong' : 'That is all: the answer'}
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}

interface LooksProps {
  readonly merge: Merge;
  readonly frame: number | null;
  readonly deep: DeepView | null;
  onFrame(frame: number | null): void;
}

/** What the picture shows, and how large. */
function Looks({ merge, frame, deep, onFrame }: LooksProps) {
  return (
    <Box sx={{ height: 34, display: 'flex', alignItems: 'center', gap: 0.5, px: 1, flex: 'none', overflowX: 'auto' }}>
      <Look isShown={frame === null} onClick={() => onFrame(null)} words="Merge" />
      {merge.frames.map((f, k) => (
        <Look
          key={f.pictureId}
          isShown={frame === k}
          onClick={() => onFrame(k)}
          words={String(k + 1)}
          title={f.fileName}
        />
      ))}
      <Box sx={{ flex: 1 }} />
      <Look isShown={false} onClick={() => deep?.fit()} words="Whole" />
      <Look
        isShown={false}
        onClick={() => {
          if (!deep) return;
          const camera = deep.camera('aim');
          const x = camera.originX + camera.width / 2 / camera.zoom;
          const y = camera.originY + camera.height / 2 / camera.zoom;
          deep.setCamera(showing(camera, { x, y, width: 1, height: 1 }, 1 / window.devicePixelRatio));
        }}
        words="Full size"
      />
    </Box>
  );
}

interface SolvedProps {
  readonly exerciseId: string;
  readonly solution: Solution;
}

/** What was hidden, and the way on. */
function Solved({ exerciseId, solution }: SolvedProps) {
  return (
    <>
      <Typography role="status">{solutionWords(solution)}</Typography>
      <Box
        component="ul"
        aria-label="What was hidden"
        sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 0.75 }}
      >
        {solution.faults.map((fault, k) => (
          <Box component="li" key={k} sx={{ display: 'flex', gap: 1 }}>
            <DefectSign defect={fault.defect} size={16} />
            <Typography variant="body2">
              <b>{DEFECT_LOOKS[fault.defect].name}</b>, {faultWords(fault, solution)}
              {fault.isPlain ? '' : ' (faint)'}
            </Typography>
          </Box>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary">
        On the picture: hatched in green what you found, in red what you missed; your marks with their numbers.
      </Typography>
      <Box>
        <Button variant="contained" component={Link} to="/practice">
          Next exercise
        </Button>
      </Box>
      <RepairIt exerciseId={exerciseId} repair={solution.repair} />
    </>
  );
}

interface LookProps {
  readonly isShown: boolean;
  readonly words: string;
  readonly title?: string;
  onClick(): void;
}

function Look({ isShown, words, title, onClick }: LookProps) {
  return (
    <Button
      size="small"
      color="inherit"
      variant={isShown ? 'outlined' : 'text'}
      aria-pressed={isShown}
      title={title}
      onClick={onClick}
      sx={{ minWidth: 28, px: 0.75, py: 0.1, bgcolor: isShown ? GREY.raised : 'transparent' }}
    >
      {words}
    </Button>
  );
}

interface ClockProps {
  readonly began: number;
  readonly limitS: number | null;
  onOver(): void;
}

/** Time taken, or left; when none is left the answer is given as it stands. */
function Clock({ began, limitS, onOver }: ClockProps) {
  const [now, setNow] = useState(began);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), 500);
    return () => window.clearInterval(timer);
  }, []);
  const tookS = (now - began) / 1000;
  const isOver = limitS !== null && tookS >= limitS;
  const give = useRef(onOver);
  useEffect(() => {
    give.current = onOver;
  });
  // Once: what is given then stands.
  useEffect(() => {
    if (isOver) give.current();
  }, [isOver]);
  const shown = limitS === null ? tookS : Math.max(0, limitS - tookS);
  return (
    <Box component="span" role="timer" sx={{ fontFamily: MONO, fontSize: 13 }}>
      {Math.floor(shown / 60)}:{String(Math.floor(shown % 60)).padStart(2, '0')}
      {limitS === null ? '' : ' left'}
    </Box>
  );
}
