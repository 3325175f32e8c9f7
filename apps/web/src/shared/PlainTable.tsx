// A small table of figures: a heading for each row, thin rules.
import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { GREY } from '../app/theme';

export interface PlainRow {
  readonly name: string;
  readonly cells: readonly ReactNode[];
}

interface PlainTableProps {
  readonly label: string;
  /** An empty heading stands over cells that need none. */
  readonly heads: readonly string[];
  readonly rows: readonly PlainRow[];
  readonly wide?: boolean;
}

const CELL = { py: 0.5, pr: 2.5, textAlign: 'left', fontWeight: 400, borderBottom: `1px solid ${GREY.rule}` } as const;

export function PlainTable({ label, heads, rows, wide = false }: PlainTableProps) {
  return (
    <Box component="table" aria-label={label} sx={{ borderCollapse: 'collapse', width: wide ? '100%' : 'auto' }}>
      <thead>
        <tr>
          {heads.map((head, k) => (
            <Box component={head ? 'th' : 'td'} key={k} sx={{ ...CELL, color: GREY.quiet }}>
              {head}
            </Box>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, cells }, k) => (
          <tr key={k}>
            <Box component="th" scope="row" sx={CELL}>
              {name}
            </Box>
            {cells.map((cell, k) => (
              <Box component="td" key={k} sx={CELL}>
                {cell}
              </Box>
            ))}
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
