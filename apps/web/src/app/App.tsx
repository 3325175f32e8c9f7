// Providers and routes.
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClientProvider } from '@tanstack/react-query';
import { SnackbarProvider } from 'notistack';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { BenchScreen } from '../features/bench/BenchScreen';
import { CameraScreen } from '../features/camera/CameraScreen';
import { LogScreen } from '../features/log/LogScreen';
import { MergeScreen } from '../features/merge/MergeScreen';
import { FinishScreen } from '../features/finish/FinishScreen';
import { JobsScreen } from '../features/jobs/JobsScreen';
import { CardScreen } from '../features/plan/card/CardScreen';
import { KitScreen } from '../features/plan/KitScreen';
import { PlanScreen } from '../features/plan/PlanScreen';
import { PlansScreen } from '../features/plan/PlansScreen';
import { ExerciseScreen } from '../features/practice/ExerciseScreen';
import { PracticeScreen } from '../features/practice/PracticeScreen';
import { PrintScreen } from '../features/plan/PrintScreen';
import { CardsScreen } from '../features/sort/CardsScreen';
import { SortScreen } from '../features/sort/SortScreen';
import { AlignmentScreen } from '../features/set/AlignmentScreen';
import { FramesScreen } from '../features/set/FramesScreen';
import { makeQueryClient } from '../shared/queryClient';
import { useServerNews } from '../shared/useServerNews';
import { Frame } from './Frame';
import { TimeKeeper } from './TimeKeeper';
import { theme } from './theme';

const client = makeQueryClient();

export function App() {
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={client}>
        <SnackbarProvider
          maxSnack={3}
          autoHideDuration={6000}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          <BrowserRouter>
            <News />
            <TimeKeeper />
            <Routes>
              <Route element={<Frame />}>
                <Route index element={<Navigate to="/jobs" replace />} />
                <Route path="jobs" element={<JobsScreen />} />
                <Route path="plan" element={<PlansScreen />} />
                <Route path="plan/print" element={<PrintScreen />} />
                <Route path="plan/kit" element={<KitScreen />} />
                <Route path="plan/:planId" element={<PlanScreen />} />
                <Route path="plan/:planId/card" element={<CardScreen />} />
                <Route path="sort" element={<CardsScreen />} />
                <Route path="sort/:cardId" element={<SortScreen />} />
                <Route path="log" element={<LogScreen />} />
                <Route path="practice" element={<PracticeScreen />} />
                <Route path="practice/:exerciseId" element={<ExerciseScreen />} />
                <Route path="camera" element={<CameraScreen />} />
                <Route path="jobs/:jobId/frames" element={<FramesScreen />} />
                <Route path="jobs/:jobId/alignment" element={<AlignmentScreen />} />
                <Route path="jobs/:jobId/merge" element={<MergeScreen />} />
                <Route path="jobs/:jobId/bench" element={<BenchScreen />} />
                <Route path="jobs/:jobId/finish" element={<FinishScreen />} />
                <Route path="*" element={<Navigate to="/jobs" replace />} />
              </Route>
            </Routes>
          </BrowserRouter>
        </SnackbarProvider>
      </QueryClientProvider>
    </ThemeProvider>
  );
}

function News() {
  useServerNews();
  return null;
}
