// A pane that follows the one in which work goes on: another picture of the same place.
import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';
import { GREY } from '../../../app/theme';
import type { BenchMerge } from '../../../shared/queries';
import type { DeepView } from '../../../viewer/deepView';
import { useLayers } from '../hooks/useLayers';
import { useMarks } from '../hooks/useMarks';
import { useView } from '../../../viewer/useView';
import type { Pane } from '../looks';
import type { RepairSight } from '../pictures';

interface FollowingPaneProps {
  readonly merge: BenchMerge;
  readonly pane: Pane;
  readonly sight: RepairSight;
  readonly leader: DeepView | null;
}

export function FollowingPane({ merge, pane, sight, leader }: FollowingPaneProps) {
  const host = useRef<HTMLDivElement>(null);
  const deep = useView(host);
  useLayers(deep, merge, pane, sight);
  useMarks(deep, merge);
  useEffect(() => {
    if (!deep || !leader) return;
    const follow = (): void => {
      const { originX, originY, zoom } = leader.camera();
      const { width, height } = deep.camera();
      deep.setCamera({ originX, originY, zoom, width, height }, 'at once');
    };
    // Its own first picture comes when it comes: then it has to be put in place, too.
    const stops = [leader.onChange(follow), deep.onLoaded(follow)];
    follow();
    return () => stops.forEach((stop) => void stop());
  }, [deep, leader]);
  return (
    <Box
      sx={{
        position: 'relative',
        overflow: 'hidden',
        borderRight: `1px solid ${GREY.rule}`,
        borderBottom: `1px solid ${GREY.rule}`,
      }}
    >
      <Box ref={host} role="img" aria-label="The same place in another look" sx={{ position: 'absolute', inset: 0 }} />
    </Box>
  );
}
