// Counts the time that somebody works on the job whose screen is open.
import { useLocation } from 'react-router';
import { stageSchema } from '@blendrak/contract';
import { useBench } from '../features/bench/store';
import { useTimeSpent } from '../shared/timeSpent';

export function TimeKeeper() {
  const [, jobs, id, screen] = useLocation().pathname.split('/');
  const stage = stageSchema.safeParse(screen);
  const open = useBench((s) => s.openFinding);
  const isOnBench = screen === 'bench';
  useTimeSpent(jobs === 'jobs' && id && stage.success ? { id, stage: stage.data } : null, isOnBench ? open : null);
  return null;
}
