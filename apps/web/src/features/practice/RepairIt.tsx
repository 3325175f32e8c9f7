// Repair it: what was hidden is repaired on the bench, and then held against the merge as it should be.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import type { ScoredRepair } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { DEFECT_LOOKS } from '../../shared/defects';
import { PlainTable } from '../../shared/PlainTable';
import { useScoring } from './practiceApi';
import { repairWords } from './solutionWords';

interface RepairItProps {
  readonly exerciseId: string;
  readonly repair: ScoredRepair | null;
}

export function RepairIt({ exerciseId, repair }: RepairItProps) {
  const scoring = useScoring(exerciseId);
  return (
    <Box
      component="section"
      aria-label="Repair it"
      sx={{ borderTop: `1px solid ${GREY.rule}`, pt: 1.5, display: 'grid', gap: 1 }}
    >
      <Typography variant="h2">Repair it</Typography>
      <Typography variant="body2" color="text.secondary">
        Repair what was hidden on the bench, by hand or by its proposals, and have it held against the merge as it
        should be.
      </Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="outlined" component={Link} to={`/jobs/${exerciseId}/bench`}>
          Open it on the bench
        </Button>
        <Button variant="outlined" disabled={scoring.isPending} onClick={() => scoring.mutate()}>
          Score my repair
        </Button>
      </Box>
      {scoring.error && (
        <Typography role="alert" color="error" variant="body2">
          {wordsOf(scoring.error)}
        </Typography>
      )}
      {repair && (
        <>
          <Typography role="status">{repairWords(repair)}</Typography>
          <PlainTable
            label="Own repair"
            heads={['Hidden', 'Error fell by', '']}
            rows={repair.faults.map(({ defect, fall, isMended }) => ({
              name: DEFECT_LOOKS[defect].name,
              cells: [
                fall >= 0 ? `${Math.round(100 * fall)} %` : `grew by ${Math.round(-100 * fall)} %`,
                isMended ? 'mended' : '',
              ],
            }))}
          />
        </>
      )}
    </Box>
  );
}
