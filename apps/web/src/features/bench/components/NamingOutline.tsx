// What was outlined by hand is named: only then is it a finding.
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import Typography from '@mui/material/Typography';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { DefectWord } from '@blendrak/contract';
import { api, wordsOf } from '../../../shared/api';
import { DEFECT_LOOKS, DefectSign } from '../../../shared/defects';
import { KEYS, type BenchMerge } from '../../../shared/queries';
import { useBench } from '../store';

/** Asks for the name of an outline that has none, while there is one. */
export function NamingOutline({ merge }: { readonly merge: BenchMerge }) {
  const outlined = useBench((s) => s.outlined);
  return outlined && <Naming merge={merge} polygon={outlined} />;
}

interface NamingProps {
  readonly merge: BenchMerge;
  readonly polygon: readonly (readonly [number, number])[];
}

function Naming({ merge, polygon }: NamingProps) {
  const set = useBench((s) => s.set);
  const onClose = (): void => set({ outlined: null });
  const client = useQueryClient();
  const [defect, setDefect] = useState<DefectWord | null>(null);
  const mark = useMutation({
    mutationFn: (word: DefectWord) =>
      api.markByHand(merge.id, { defect: word, polygon: polygon.map(([x, y]) => [x, y]) }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: KEYS.findings(merge.id) });
      set({ outlined: null, tool: null, openFinding: id, openPin: null });
    },
  });
  const words = [...merge.lookedFor, ...merge.leftToTheEye];
  return (
    <Dialog open onClose={onClose} aria-labelledby="mark-title">
      <DialogTitle id="mark-title">What is it?</DialogTitle>
      <DialogContent sx={{ pb: 0.5 }}>
        <RadioGroup
          aria-label="Defect"
          value={defect ?? ''}
          onChange={(_event, value) => setDefect(words.find((w) => w === value) ?? null)}
          sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 2 }}
        >
          {words.map((word) => (
            <FormControlLabel
              key={word}
              value={word}
              control={<Radio size="small" />}
              label={
                <>
                  <DefectSign defect={word} size={14} /> {DEFECT_LOOKS[word].name}
                </>
              }
            />
          ))}
        </RadioGroup>
        {mark.isError && (
          <Typography role="alert" variant="body2" color="error" sx={{ pt: 1 }}>
            {wordsOf(mark.error)}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Give up
        </Button>
        <Button
          variant="contained"
          disabled={defect === null || mark.isPending}
          onClick={() => defect && mark.mutate(defect)}
        >
          Mark and trace
        </Button>
      </DialogActions>
    </Dialog>
  );
}
