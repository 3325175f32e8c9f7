// What keeps a plan from being computed, and what ought to be thought over: told apart by word, sign and hue.
import ErrorOutline from '@mui/icons-material/ErrorOutlined';
import WarningAmber from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { FieldProblem } from '@blendrak/core/plan';

export function Warnings({ problems }: { readonly problems: readonly FieldProblem[] }) {
  return (
    <Box role="status" sx={{ display: 'grid', gap: 0.5 }}>
      {problems.map(({ field, severity, message }) => (
        <Box key={`${field} ${message}`} sx={{ display: 'flex', gap: 1, alignItems: 'flex-start' }}>
          {severity === 'error' ? (
            <ErrorOutline color="error" fontSize="small" />
          ) : (
            <WarningAmber color="warning" fontSize="small" />
          )}
          <Typography>
            <Box component="strong" sx={{ color: severity === 'error' ? 'error.main' : 'warning.main' }}>
              {severity === 'error' ? 'Cannot be planned. ' : 'Mind. '}
            </Box>
            {message}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
