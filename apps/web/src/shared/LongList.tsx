// A list of rows of one height; a long one holds only the rows that can be seen.
import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';

interface LongListProps {
  readonly count: number;
  readonly rowPx: number;
  readonly label?: string;
  keyOf(index: number): string;
  row(index: number): ReactNode;
  /** Row that is to be in sight; −1 for none. */
  readonly current?: number;
}

/** Longer lists hold only what can be seen. */
const MOST_ROWS = 100;
const PLAIN = { listStyle: 'none', m: 0, p: 0 } as const;

export function LongList(props: LongListProps) {
  if (props.count > MOST_ROWS) return <SeenRows {...props} />;
  const { count, label, keyOf, row } = props;
  return (
    <Box component="ol" aria-label={label} sx={{ ...PLAIN, overflow: 'auto', flex: 1, minHeight: 0 }}>
      {Array.from({ length: count }, (_, k) => (
        <li key={keyOf(k)}>{row(k)}</li>
      ))}
    </Box>
  );
}

function SeenRows({ count, rowPx, label, keyOf, row, current = -1 }: LongListProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowPx,
    overscan: 4,
    initialRect: { width: 100, height: 800 },
  });
  useEffect(() => {
    if (current >= 0) rows.scrollToIndex(current, { align: 'auto' });
  }, [current, rows]);
  return (
    <Box ref={scroller} sx={{ overflow: 'auto', flex: 1, minHeight: 0 }}>
      <Box component="ol" aria-label={label} sx={{ ...PLAIN, position: 'relative', height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => (
          <Box
            component="li"
            key={keyOf(index)}
            aria-setsize={count}
            aria-posinset={index + 1}
            sx={{ position: 'absolute', top: 0, left: 0, right: 0, height: rowPx }}
            style={{ transform: `translateY(${start}px)` }}
          >
            {row(index)}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
