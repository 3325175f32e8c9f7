// The row of tools above the strip from which pixels come: what is in hand, its settings, how saving stands.
import Box from '@mui/material/Box';
import Redo from '@mui/icons-material/RedoOutlined';
import Undo from '@mui/icons-material/UndoOutlined';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { GREY, MONO } from '../../../app/theme';
import { CommandButton } from '../../../shared/commands/CommandButton';
import type { Command } from '../../../shared/commands/keys';
import type { BenchMerge } from '../../../shared/queries';
import { BRUSH_LIMITS } from '../brushSize';
import { donorMark, donorName } from '../donors';
import type { Foreseen } from '../operations/foresee';
import type { Saving } from '../operations/useOutbox';
import { useBench } from '../store';
import { toolOf, TOOLS, type Brush, type Tool } from '../tools';
import { ChoiceMenu } from './ChoiceMenu';

interface ToolBarProps {
  readonly merge: BenchMerge;
  readonly foreseen: Foreseen;
  readonly saving: Saving;
  /** Whether something drawn by hand is being worked out. */
  readonly isWorking: boolean;
  readonly commands: Readonly<Record<string, Command>>;
}

const SETTINGS: Readonly<Record<keyof Brush, Omit<SettingProps, 'value' | 'onChange'>>> = {
  sizePx: { label: 'Size', min: BRUSH_LIMITS.least, max: BRUSH_LIMITS.most, step: 2, unit: 'px' },
  hardness: { label: 'Hardness', min: 0, max: 1, step: 0.05 },
  strength: { label: 'Strength', min: 0.05, max: 1, step: 0.05 },
};

export function ToolBar({ merge, foreseen, saving, isWorking, commands }: ToolBarProps) {
  const tool = useBench((s) => s.tool);
  const donor = useBench((s) => s.donor);
  const inHand = tool === null ? null : toolOf(tool);
  const status = isWorking ? 'working it out …' : savingWords(saving, foreseen.operations.length);
  // Words give way, first those of the hint; settings do not.
  const hasSettings = (inHand?.settings.length ?? 0) > 0;
  const paintsWith = inHand?.donorOf({ donor }) ?? null;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 1.5, height: 34, minWidth: 0 }}>
      <ToolGroup label="In hand" group="repair" commands={commands} />
      <ToolMenu commands={commands} />
      <ToolGroup label="Measure and mark" group="look" commands={commands} />
      {inHand ? (
        <>
          {paintsWith !== null && (
            <Typography variant="body2" noWrap sx={{ flex: 'none' }} title={donorName(merge, paintsWith)}>
              with <b>{donorMark(merge, paintsWith).mark}</b>
            </Typography>
          )}
          <Settings names={inHand.settings} />
          {inHand.settings.length === 0 && (
            <Typography variant="body2" color="text.secondary" noWrap sx={{ minWidth: 0 }}>
              {inHand.hint}
            </Typography>
          )}
        </>
      ) : (
        <Typography variant="body2" color="text.secondary" noWrap sx={{ minWidth: 0 }}>
          Pick a frame below to paint with it. ▲ shown now, ◆ sharpest; figures: sharpness in %
        </Typography>
      )}
      <Box
        sx={{
          ml: 'auto',
          display: 'flex',
          gap: 0.25,
          alignItems: 'center',
          minWidth: 64,
          pl: 1,
          flexShrink: hasSettings ? 1 : 0,
        }}
      >
        <Typography
          role="status"
          variant="body2"
          color={saving.state === 'retrying' ? 'warning.main' : 'text.secondary'}
          noWrap
          title={status}
          sx={{ minWidth: 0 }}
        >
          {status}
        </Typography>
        <CommandButton command={commands['undo']!} icon={<Undo fontSize="small" />} />
        <CommandButton command={commands['redo']!} icon={<Redo fontSize="small" />} />
      </Box>
    </Box>
  );
}

interface ToolGroupProps {
  readonly label: string;
  readonly group: Tool['group'];
  readonly commands: ToolBarProps['commands'];
}

/** The tools that are wanted now and then, with what to do with them. */
function ToolMenu({ commands }: Pick<ToolGroupProps, 'commands'>) {
  const tool = useBench((s) => s.tool);
  const choices = TOOLS.filter((t) => t.place === 'menu').map(({ id, name, hint }) => {
    const { shown, isEnabled, run } = commands[`tool-${id}`]!;
    return { ...{ id, name, shown, isEnabled }, about: hint, run: () => run(true) };
  });
  return <ChoiceMenu name="More" chosen={tool} choices={choices} />;
}

function ToolGroup({ label, group, commands }: ToolGroupProps) {
  const tool = useBench((s) => s.tool);
  const takeTool = useBench((s) => s.takeTool);
  return (
    <ToggleButtonGroup
      size="small"
      exclusive
      value={tool}
      aria-label={label}
      sx={{ flex: 'none', '& .MuiToggleButton-root': { py: 0.1, px: 1 } }}
    >
      {TOOLS.filter((t) => t.group === group && t.place === 'bar').map(({ id, name }) => {
        const { label: words, shown, isEnabled, run } = commands[`tool-${id}`]!;
        return (
          <ToggleButton
            key={id}
            value={id}
            disabled={!isEnabled}
            title={`${words} (${shown})`}
            onClick={() => (tool === id ? takeTool(null) : run(true))}
          >
            {name}
          </ToggleButton>
        );
      })}
    </ToggleButtonGroup>
  );
}

function savingWords(saving: Saving, count: number): string {
  if (saving.state === 'saved') return `${count} ${count === 1 ? 'stroke' : 'strokes'}, saved`;
  if (saving.state === 'saving') return 'saving …';
  return `server away: ${saving.count} kept, trying again`;
}

function Settings({ names }: { names: readonly (keyof Brush)[] }) {
  const brush = useBench((s) => s.brush);
  const set = useBench((s) => s.set);
  return names.map((name) => (
    <Setting
      key={name}
      {...SETTINGS[name]}
      value={brush[name]}
      onChange={(value) => set({ brush: { ...brush, [name]: value } })}
    />
  ));
}

interface SettingProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly unit?: string;
  onChange(value: number): void;
}

function Setting({ label, value, min, max, step, unit, onChange }: SettingProps) {
  const words = (v: number): string => (unit ? `${v} ${unit}` : `${Math.round(v * 100)} %`);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, flex: 'none' }}>
      <Typography sx={{ fontSize: 12, '@media (max-width: 1150px)': { display: 'none' } }}>{label}</Typography>
      <Slider
        size="small"
        color="secondary"
        aria-label={label}
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={(_event, v) => onChange(v)}
        // Where there is no room for figures they show while they are changed.
        valueLabelDisplay="auto"
        valueLabelFormat={words}
        sx={{ width: 50, flex: 'none' }}
      />
      <Typography
        sx={{
          ...{ fontFamily: MONO, fontSize: 11.5, width: 42, flex: 'none', color: GREY.quiet },
          '@media (max-width: 1500px)': { display: 'none' },
        }}
      >
        {words(value)}
      </Typography>
    </Box>
  );
}
