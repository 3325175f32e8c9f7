// The simulated camera: choose a subject and settings, release, and the files arrive in a job as if from a card.
import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ShootMenu } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { KIND_WORDS } from '../../shared/kinds';
import { OrderForm } from './OrderForm';
import { useCamera } from './useCamera';

export function CameraScreen() {
  const { menu, shoot } = useCamera();
  const [chosen, setChosen] = useState(0);
  const [seed] = useState(() => Math.floor(Date.now() / 1000) % 100_000);
  if (menu.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (menu.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(menu.error)}
      </Typography>
    );
  const entry = menu.data[chosen]!;
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1080, mx: 'auto', p: 3 }}>
        <Typography variant="h1">Simulated camera</Typography>
        <Typography color="text.secondary" sx={{ mb: 2, maxWidth: 720 }}>
          Stands in for camera, rail and tripod head. It photographs the Kestrel Point Signal Station with your settings
          and hands the files over as if from a card.
        </Typography>
        <Box sx={{ display: 'grid', gridTemplateColumns: '280px 1fr', gap: 3, alignItems: 'start' }}>
          <Subjects menu={menu.data} chosen={chosen} onChoose={setChosen} />
          <OrderForm
            key={entry.subject}
            entry={entry}
            seed={seed}
            busy={shoot.isPending}
            problem={shoot.isError ? wordsOf(shoot.error) : null}
            onShoot={(order) => shoot.mutate(order)}
          />
        </Box>
      </Box>
    </Box>
  );
}

function Subjects({ menu, chosen, onChoose }: { menu: ShootMenu; chosen: number; onChoose: (i: number) => void }) {
  return (
    <RadioGroup
      aria-label="Subject"
      value={menu[chosen]!.subject}
      onChange={(event) => onChoose(menu.findIndex((entry) => entry.subject === event.target.value))}
      sx={{ borderTop: `1px solid ${GREY.rule}` }}
    >
      {menu.map((entry, i) => (
        <FormControlLabel
          key={entry.subject}
          value={entry.subject}
          control={<Radio size="small" />}
          label={
            <>
              <Typography sx={{ fontWeight: 600 }}>{entry.title}</Typography>
              <Typography variant="body2" color="text.secondary">
                {KIND_WORDS[entry.kind]}
              </Typography>
            </>
          }
          sx={{
            m: 0,
            px: 0.5,
            py: 0.75,
            borderBottom: `1px solid ${GREY.rule}`,
            bgcolor: i === chosen ? GREY.raised : 'transparent',
            '&:hover': { bgcolor: i === chosen ? GREY.raised : GREY.panel },
          }}
        />
      ))}
    </RadioGroup>
  );
}
