// Which parts of a bracket come from which exposure: painted on the reference, softly bordered.
import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Merge, MergeSettings } from '@blendrak/contract';
import { tileUrl } from '../../shared/api';
import { AreaPainter } from '../../shared/area/AreaPainter';
import { Choice } from '../../shared/Choice';
import { exposureWords, shapesFrom, withPart } from './mergeSettings';

interface PaintedPartsProps {
  readonly merge: Merge;
  readonly settings: MergeSettings;
  onChange(change: Partial<MergeSettings>): void;
}

export function PaintedParts({ merge, settings, onChange }: PaintedPartsProps) {
  const others = merge.frames.map((f, k) => ({ f, k })).filter(({ k }) => k !== merge.reference);
  const [from, setFrom] = useState(others[0]!.k);
  const reference = merge.frames[merge.reference]!;
  return (
    <Box component="section" aria-label="Painted parts" sx={{ display: 'flex', gap: 3, alignItems: 'flex-start' }}>
      <AreaPainter
        key={from}
        label={`Part from ${merge.frames[from]!.fileName}`}
        picture={tileUrl(`p-${reference.pictureId}`, 'full', '!920,920')}
        width={merge.width}
        height={merge.height}
        start={shapesFrom(settings.parts, from)}
        onChange={(shapes) => onChange({ parts: withPart(settings.parts, from, shapes) })}
      />
      <Box sx={{ display: 'grid', gap: 1.5, width: 300 }}>
        <Choice
          label="Paint in from"
          value={String(from)}
          choices={others.map(
            ({ f, k }) =>
              [
                String(k),
                [f.fileName, exposureWords(merge.facts, k)].filter((words) => words !== '').join(', '),
              ] as const,
          )}
          onChange={(k) => setFrom(Number(k))}
        />
        <Box>
          <Typography variant="body2" id="feather">
            Soft border: {(100 * settings.partsFeather).toFixed(1)} % of the width
          </Typography>
          <Slider
            size="small"
            aria-labelledby="feather"
            min={0}
            max={10}
            step={0.5}
            value={settings.partsFeather * 100}
            onChange={(_, value) => onChange({ partsFeather: Number(value) / 100 })}
          />
        </Box>
        <Typography variant="body2" color="text.secondary">
          What you mark comes from the chosen frame, all else from {reference.fileName}. Mark what is clipped and take
          it from a darker frame.
        </Typography>
      </Box>
    </Box>
  );
}
