// The frame around every screen: name, job, and the rail of stages the job moves through.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { Link, NavLink, Outlet, useParams } from 'react-router';
import { useJob } from '../shared/queries';
import { GREY } from './theme';

const STAGES = [
  { path: 'frames', name: 'Frames' },
  { path: 'alignment', name: 'Alignment' },
  { path: 'merge', name: 'Merge' },
  { path: 'bench', name: 'Bench' },
  { path: 'finish', name: 'Finish' },
] as const;

export function Frame() {
  return (
    <Box sx={{ height: '100vh', display: 'flex', flexDirection: 'column', minWidth: 1024 }}>
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 2,
          px: 2,
          height: 44,
          flex: 'none',
          borderBottom: `1px solid ${GREY.rule}`,
        }}
      >
        <Typography
          component={Link}
          to="/jobs"
          sx={{ fontWeight: 750, color: 'inherit', textDecoration: 'none', letterSpacing: 0.2, py: 0.5 }}
        >
          Blendrak
        </Typography>
        <JobRail />
        <Places />
      </Box>
      <Box component="main" sx={{ flex: 1, minHeight: 0 }}>
        <Outlet />
      </Box>
    </Box>
  );
}

const PLACES = [
  ['/jobs', 'Jobs'],
  ['/plan', 'Plan'],
  ['/sort', 'Sort'],
  ['/log', 'Log'],
  ['/practice', 'Practice'],
  ['/camera', 'Simulated camera'],
] as const;

/** The ways between the screens that belong to no job. */
function Places() {
  const { jobId } = useParams();
  if (jobId) return null;
  return (
    <Box component="nav" aria-label="Places" sx={{ display: 'flex', ml: 'auto', gap: 1 }}>
      {PLACES.map(([to, name]) => (
        <Box
          key={to}
          component={NavLink}
          to={to}
          sx={{
            color: GREY.quiet,
            px: 1,
            py: 0.5,
            textDecoration: 'none',
            '&.active': { color: GREY.text, textDecoration: 'underline', textUnderlineOffset: 5 },
          }}
        >
          {name}
        </Box>
      ))}
    </Box>
  );
}

function JobRail() {
  const { jobId } = useParams();
  const job = useJob(jobId);
  if (!jobId || !job.data) return null;
  const { summary } = job.data;
  const state: Record<(typeof STAGES)[number]['path'], string> = {
    frames: `${summary.frames}`,
    alignment: summary.mergeId ? 'done' : '–',
    merge: summary.mergeId ? 'done' : '–',
    bench: summary.mergeId ? `${summary.openFindings} open` : '–',
    finish: summary.verdict === null ? '–' : summary.verdict.replaceAll('-', ' '),
  };
  return (
    <>
      <Typography noWrap sx={{ color: GREY.quiet, maxWidth: 380 }}>
        {summary.name}
      </Typography>
      <Box component="nav" aria-label="Stages of this job" sx={{ display: 'flex', ml: 'auto', height: '100%' }}>
        {STAGES.map((stage, i) => (
          <Box
            key={stage.path}
            component={NavLink}
            to={`/jobs/${jobId}/${stage.path}`}
            sx={{
              display: 'flex',
              alignItems: 'center',
              gap: 1,
              px: 2,
              color: GREY.quiet,
              textDecoration: 'none',
              borderLeft: i === 0 ? 'none' : `1px solid ${GREY.rule}`,
              '&.active': { color: GREY.text, boxShadow: `inset 0 -3px 0 ${GREY.text}` },
            }}
          >
            <span>{stage.name}</span>
            <Box component="span" sx={{ fontSize: 12, color: GREY.quiet }}>
              {state[stage.path]}
            </Box>
          </Box>
        ))}
      </Box>
    </>
  );
}
