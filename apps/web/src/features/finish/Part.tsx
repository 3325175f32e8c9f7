// One part of finishing, under its title.
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { GREY } from '../../app/theme';

export function Part({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <Box component="section" sx={{ display: 'grid', gap: 1, borderTop: `1px solid ${GREY.rule}`, pt: 1 }}>
      <Typography variant="h2">{title}</Typography>
      {children}
    </Box>
  );
}
