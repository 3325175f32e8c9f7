// Which of two: a place twice, one of them flawed; then all of them with the answer.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { Exercise, Solution } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { DEFECT_LOOKS, DefectSign } from '../../shared/defects';
import { pairPictureUrl, useBegin, useChoices, usePairs } from './practiceApi';
import { solutionWords } from './solutionWords';

type Side = 0 | 1;
const SIDES: readonly (readonly [Side, string])[] = [
  [0, 'The left one is flawed'],
  [1, 'The right one is flawed'],
];

export function WhichOfTwo({ exercise }: { readonly exercise: Exercise }) {
  const { mutate: begin } = useBegin(exercise.id);
  const isSolved = exercise.solution !== null;
  useEffect(() => {
    if (!isSolved) begin();
  }, [begin, isSolved]);
  return exercise.solution ? (
    <Answered exerciseId={exercise.id} solution={exercise.solution} />
  ) : (
    <Choosing exerciseId={exercise.id} />
  );
}

function Choosing({ exerciseId }: { readonly exerciseId: string }) {
  const pairs = usePairs(exerciseId);
  const answer = useChoices(exerciseId);
  const [choices, setChoices] = useState<readonly Side[]>([]);
  const [began] = useState(() => Date.now());
  const trouble = pairs.error ?? answer.error;
  if (trouble)
    return (
      <Typography role="alert" color="error" sx={{ p: 3 }}>
        {wordsOf(trouble)}
      </Typography>
    );
  if (!pairs.data) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (pairs.data.length === 0)
    return (
      <Typography sx={{ p: 3 }}>
        Nothing could be hidden in this one.{' '}
        <Link to="/practice" style={{ color: GREY.text }}>
          Remove it
        </Link>{' '}
        and order another.
      </Typography>
    );
  const at = Math.min(choices.length, pairs.data.length - 1);
  const choose = (side: Side): void => {
    const made = [...choices, side];
    setChoices(made);
    if (made.length === pairs.data.length) answer.mutate({ choices: made, tookS: (Date.now() - began) / 1000 });
  };
  return (
    <Box
      sx={{
        height: '100%',
        overflow: 'auto',
        p: 3,
        display: 'grid',
        gap: 2,
        justifyItems: 'center',
        alignContent: 'start',
      }}
    >
      <Typography variant="h2" component="h1">
        Which of the two is flawed? {at + 1} of {pairs.data.length}
      </Typography>
      <Pair exerciseId={exerciseId} pair={at} />
      <Box sx={{ display: 'flex', gap: 2 }}>
        {SIDES.map(([side, words]) => (
          <Button key={side} variant="outlined" disabled={answer.isPending} onClick={() => choose(side)}>
            {words}
          </Button>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary">
        The same place of one merge twice, at full size. What is chosen stands.
      </Typography>
    </Box>
  );
}

function Pair({ exerciseId, pair }: { readonly exerciseId: string; readonly pair: number }) {
  return (
    <Box sx={{ display: 'flex', gap: 3, p: 3, bgcolor: '#777' }}>
      {SIDES.map(([side]) => (
        <img
          key={`${pair} ${side}`}
          src={pairPictureUrl(exerciseId, pair, side)}
          alt={side === 0 ? 'Left picture' : 'Right picture'}
          style={{ display: 'block', maxWidth: '45vw' }}
        />
      ))}
    </Box>
  );
}

function Answered({ exerciseId, solution }: { readonly exerciseId: string; readonly solution: Solution }) {
  return (
    <Box sx={{ height: '100%', overflow: 'auto', p: 3, display: 'grid', gap: 2, alignContent: 'start' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
        <Typography variant="h2" component="h1" role="status" sx={{ flex: 1 }}>
          {solutionWords(solution)}
        </Typography>
        <Button variant="contained" component={Link} to="/practice">
          Next exercise
        </Button>
      </Box>
      {solution.pairs.map(({ defect, isPlain, side, isRight }, k) => (
        <Box
          component="section"
          key={k}
          aria-label={`Pair ${k + 1}`}
          sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1 }}
        >
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', mb: 1 }}>
            <DefectSign defect={defect} size={16} />
            <Typography>
              <b>{DEFECT_LOOKS[defect].name}</b>
              {isPlain ? '' : ' (faint)'} in the {side === 0 ? 'left' : 'right'} one: {isRight ? 'told' : 'not told'}
            </Typography>
          </Box>
          <Pair exerciseId={exerciseId} pair={k} />
        </Box>
      ))}
    </Box>
  );
}
