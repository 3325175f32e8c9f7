// Log: what goes wrong, what it teaches, what the jobs tell about bodies and lenses, and the journal of all that was done.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { CalibrationName, LogGrouping } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { Choice } from '../../shared/Choice';
import { useLessonChoice, useLessons } from '../../shared/lessons';
import { PlainTable } from '../../shared/PlainTable';
import { useJobs } from '../../shared/queries';
import { FaultMatrix } from './FaultMatrix';
import { Journal } from './Journal';
import { Lessons } from './Lessons';
import { useCalibrations, useLog, useTakeCalibration, useTimeLog } from './logApi';
import { answers } from './logWords';
import { Months } from './Months';
import { TimeTables } from './TimeTables';

const PARTS = [
  ['wrong', 'What goes wrong'],
  ['lessons', 'Lessons'],
  ['lenses', 'Bodies and lenses'],
  ['journal', 'Journal'],
] as const;

export function LogScreen() {
  const [query, setQuery] = useSearchParams();
  const part = PARTS.find(([id]) => id === query.get('part'))?.[0] ?? 'wrong';
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}>
      <Box sx={{ px: 3, pt: 2, display: 'flex', alignItems: 'baseline', gap: 4 }}>
        <Typography variant="h1">Log</Typography>
        <Tabs
          value={part}
          onChange={(_event, next: string) => setQuery({ part: next })}
          aria-label="Parts of the log"
          textColor="inherit"
          sx={{ minHeight: 32, '& .MuiTab-root': { minHeight: 32, py: 0.5 } }}
        >
          {PARTS.map(([id, words]) => (
            <Tab key={id} value={id} label={words} />
          ))}
        </Tabs>
      </Box>
      <Box sx={{ overflow: 'auto', px: 3, py: 2 }}>
        {part === 'wrong' && <WhatGoesWrong />}
        {part === 'lessons' && <LessonsPart />}
        {part === 'lenses' && <LensesPart />}
        {part === 'journal' && <Journal />}
      </Box>
    </Box>
  );
}

const GROUPINGS: readonly (readonly [LogGrouping, string])[] = [
  ['kind', 'kind'],
  ['lens', 'lens'],
  ['aperture', 'aperture'],
  ['frames', 'number of frames'],
  ['step', 'kind and number of frames'],
  ['support', 'support'],
  ['place', 'place'],
  ['light', 'light'],
];

function WhatGoesWrong() {
  const [by, setBy] = useState<LogGrouping>('kind');
  const log = useLog(by);
  const jobs = useJobs();
  const time = useTimeLog();
  if (!log.data) return <State error={log.error} />;
  return (
    <Box sx={{ display: 'grid', gap: 3 }}>
      <Box>
        {answers(log.data).map((line) => (
          <Typography key={line} sx={{ fontSize: 15, mb: 0.5 }}>
            {line}
          </Typography>
        ))}
      </Box>
      <Box sx={{ width: 220 }}>
        <Choice<LogGrouping> label="By" value={by} choices={GROUPINGS} onChange={setBy} />
      </Box>
      <FaultMatrix log={log.data} jobs={jobs.data ?? []} />
      {log.data.months.length > 0 && <Months months={log.data.months} />}
      <Box component="section" aria-label="Where the time goes">
        <Typography variant="h2" sx={{ mb: 1 }}>
          Where the time goes
        </Typography>
        {time.data ? <TimeTables {...time.data} /> : <State error={time.error} />}
      </Box>
    </Box>
  );
}

function LessonsPart() {
  const lessons = useLessons();
  const choice = useLessonChoice();
  if (!lessons.data) return <State error={lessons.error} />;
  return (
    <>
      <Lessons lessons={lessons.data} onChoose={(id, state) => choice.mutate({ id, state })} />
      {choice.error && (
        <Typography role="alert" color="error" sx={{ mt: 1 }}>
          {wordsOf(choice.error)}
        </Typography>
      )}
    </>
  );
}

function LensesPart() {
  const calibrations = useCalibrations();
  const take = useTakeCalibration();
  if (!calibrations.data) return <State error={calibrations.error} />;
  if (calibrations.data.length === 0)
    return (
      <Typography color="text.secondary">
        Nothing is known yet: it comes from merges whose files name the body or the lens.
      </Typography>
    );
  return (
    <>
      <PlainTable
        label="What the jobs tell about bodies and lenses"
        heads={['What', 'Body', 'Lens', 'Value', 'Spread', 'Jobs', 'Latest', '']}
        rows={calibrations.data.map(({ camera, lens, what, words, value, unit, spread, jobs, latest, isTaken }) => ({
          name: `${what}: ${words}`,
          cells: [
            camera,
            lens,
            `${value === null ? '–' : value.toPrecision(3)} ${unit}`,
            spread === null ? 'one job' : `± ${spread.toPrecision(2)}`,
            String(jobs.length),
            latest.slice(0, 10),
            <TakeOver
              key="take"
              name={{ camera, lens, what, words }}
              isTaken={isTaken}
              isBusy={take.isPending}
              onTake={(name) => take.mutate(name)}
            />,
          ],
        }))}
      />
      {take.error && (
        <Typography role="alert" color="error" sx={{ mt: 1 }}>
          {wordsOf(take.error)}
        </Typography>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1.5, maxWidth: 760 }}>
        What is taken over stands in{' '}
        <Link to="/plan/kit" style={{ color: GREY.text }}>
          cameras and lenses
        </Link>{' '}
        until it is taken again or removed there; plans use the breathing of a lens that is called there as the files
        call it. Specks on the sensor are a reason to clean it: until then they are found in every merge.
      </Typography>
    </>
  );
}

function TakeOver({
  name,
  isTaken,
  isBusy,
  onTake,
}: {
  readonly name: CalibrationName;
  readonly isTaken: boolean;
  readonly isBusy: boolean;
  onTake(name: CalibrationName): void;
}) {
  if (isTaken) return <>in the kit</>;
  return (
    <Button
      size="small"
      disabled={isBusy}
      aria-label={`Take over ${name.what}: ${name.words}`}
      onClick={() => onTake(name)}
    >
      Take over
    </Button>
  );
}

function State({ error }: { readonly error: Error | null }) {
  return <Typography color={error ? 'error' : undefined}>{error ? wordsOf(error) : 'Loading …'}</Typography>;
}
