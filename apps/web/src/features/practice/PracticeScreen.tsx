// Practice: exercises to order, those that wait, and how the learner does.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  exerciseOrderSchema,
  type DefectWord,
  type Exercise,
  type ExerciseOrder,
  type MergeKind,
} from '@blendrak/contract';
import { canHave, DEFECTS } from '@blendrak/core/inspect';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { Choice } from '../../shared/Choice';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';
import { useOrder, usePractice, useRemoval } from './practiceApi';
import { ProgressTable } from './ProgressTable';
import { solutionWords } from './solutionWords';

const KINDS: readonly (readonly [MergeKind, string])[] = [
  ['focus-stack', 'Focus stack'],
  ['panorama', 'Panorama'],
  ['bracket', 'Bracket'],
];
type LevelWord = 'follow' | '0' | '2' | '4';
const LEVELS: readonly (readonly [LevelWord, string])[] = [
  ['follow', 'as I do'],
  ['0', 'plain'],
  ['2', 'half of them faint'],
  ['4', 'all faint'],
];

export function PracticeScreen() {
  const practice = usePractice();
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1120, mx: 'auto', p: 3, display: 'grid', gap: 3 }}>
        <Typography variant="h1">Practice</Typography>
        {practice.error && <Typography color="error">{wordsOf(practice.error)}</Typography>}
        <Box sx={{ display: 'grid', gridTemplateColumns: '520px 1fr', gap: 4, alignItems: 'start' }}>
          <OrderForm />
          <Exercises exercises={practice.data?.exercises ?? []} />
        </Box>
        {practice.data && (
          <Box component="section" aria-label="How you do">
            <Typography variant="h2" sx={{ mb: 1 }}>
              How you do
            </Typography>
            <ProgressTable {...practice.data} />
          </Box>
        )}
      </Box>
    </Box>
  );
}

const TASKS: readonly (readonly [ExerciseOrder['task'], string])[] = [
  ['find', 'find and name'],
  ['which', 'which of two'],
];

function OrderForm() {
  const [task, setTask] = useState<ExerciseOrder['task']>('find');
  const [kind, setKind] = useState<MergeKind>('focus-stack');
  const [defects, setDefects] = useState<readonly DefectWord[]>([]);
  const [level, setLevel] = useState<LevelWord>('follow');
  const [limit, setLimit] = useState('');
  const order = useOrder();
  const read = exerciseOrderSchema.safeParse({
    task,
    kind,
    defects: defects.filter((d) => canHave(kind, d)),
    level: level === 'follow' ? level : Number(level),
    timeLimitS: task === 'which' || limit.trim() === '' ? null : Math.round(60 * Number(limit)),
  });
  const toggle = (defect: DefectWord): void =>
    setDefects(defects.includes(defect) ? defects.filter((d) => d !== defect) : [...defects, defect]);
  return (
    <Box component="section" aria-label="New exercise" sx={{ display: 'grid', gap: 1.5 }}>
      <Typography variant="h2">A merge with hidden defects</Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Choice<ExerciseOrder['task']> label="Task" value={task} choices={TASKS} onChange={setTask} />
        <Choice<MergeKind> label="Kind" value={kind} choices={KINDS} onChange={setKind} />
        <Choice<LevelWord> label="Difficulty" value={level} choices={LEVELS} onChange={setLevel} />
        <TextField
          size="small"
          label="Minutes"
          disabled={task === 'which'}
          placeholder="no limit"
          value={limit}
          onChange={(e) => setLimit(e.target.value)}
          sx={{ width: 96 }}
        />
      </Box>
      <Box component="fieldset" sx={{ border: 0, m: 0, p: 0 }}>
        <Typography component="legend" variant="body2" color="text.secondary">
          Only these (none chosen: all that it can have)
        </Typography>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr' }}>
          {DEFECTS.filter((d) => canHave(kind, d)).map((defect) => (
            <FormControlLabel
              key={defect}
              control={<Checkbox size="small" checked={defects.includes(defect)} onChange={() => toggle(defect)} />}
              label={
                <>
                  <DefectSign defect={defect} size={13} /> {DEFECT_LOOKS[defect].name}
                </>
              }
              sx={{ m: 0, '& .MuiFormControlLabel-label': { fontSize: 12.5 }, '& .MuiCheckbox-root': { p: 0.4 } }}
            />
          ))}
        </Box>
      </Box>
      {!read.success && (
        <Typography role="alert" variant="body2" color="error">
          A time limit of a third of a minute to an hour is accepted, or none.
        </Typography>
      )}
      {order.error && (
        <Typography role="alert" variant="body2" color="error">
          {wordsOf(order.error)}
        </Typography>
      )}
      <Button
        variant="contained"
        disabled={!read.success || order.isPending}
        onClick={() => read.success && order.mutate(read.data satisfies ExerciseOrder)}
        sx={{ justifySelf: 'start' }}
      >
        Make an exercise
      </Button>
    </Box>
  );
}

function Exercises({ exercises }: { readonly exercises: readonly Exercise[] }) {
  const removal = useRemoval();
  return (
    <Box component="section" aria-label="Exercises" sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h2">Exercises</Typography>
      {exercises.length === 0 && (
        <Typography color="text.secondary">
          None yet. The simulated camera makes them in the background, in about half a minute; while you solve one it
          can make the next.
        </Typography>
      )}
      {exercises.map((exercise) => {
        const { id, order, state, progress, message, solution, createdAt } = exercise;
        const name = KINDS.find(([kind]) => kind === order.kind)![1];
        return (
          <Box
            key={id}
            sx={{
              display: 'flex',
              alignItems: 'center',
              gap: 2,
              borderTop: `1px solid ${GREY.rule}`,
              pt: 1,
              minHeight: 40,
            }}
          >
            <Box sx={{ width: 110, flex: 'none' }}>
              <Typography>{name}</Typography>
              <Typography variant="body2" color="text.secondary">
                {createdAt.slice(0, 10)}
              </Typography>
            </Box>
            <Box sx={{ flex: 1, minWidth: 0 }}>
              {state === 'making' && (
                <>
                  <Typography variant="body2" noWrap>
                    being made: {message || 'waiting'}
                  </Typography>
                  <LinearProgress aria-label="Making the exercise" variant="determinate" value={100 * progress} />
                </>
              )}
              {state === 'failed' && <Typography color="error">{message}</Typography>}
              {solution && <Typography variant="body2">{solutionWords(solution)}</Typography>}
              {state === 'ready' && (
                <Typography variant="body2">
                  {order.task === 'which'
                    ? 'ready: places in pairs, one of each flawed'
                    : 'ready: defects are hidden in it'}
                </Typography>
              )}
            </Box>
            {(state === 'ready' || state === 'answered') && (
              <Button
                component={Link}
                to={`/practice/${id}`}
                variant={state === 'ready' ? 'contained' : 'text'}
                color={state === 'ready' ? 'primary' : 'inherit'}
              >
                {state === 'ready' ? 'Solve it' : 'Look again'}
              </Button>
            )}
            <Button color="inherit" onClick={() => removal.mutate(id)}>
              Remove
            </Button>
          </Box>
        );
      })}
    </Box>
  );
}
