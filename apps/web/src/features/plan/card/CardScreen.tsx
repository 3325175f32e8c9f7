// The capture card on screen; to print, and to take along as one file that needs no network.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { Link, useParams } from 'react-router';
import { makeCaptureCard, type CaptureCard } from '@blendrak/core/plan';
import { GREY } from '../../../app/theme';
import { wordsOf } from '../../../shared/api';
import { Warnings } from '../answers/Warnings';
import { cardPdfUrl } from '../planApi';
import { usePlan } from '../usePlan';
import { cardPage } from './cardPage';
import { CARD_CSS, CardView } from './CardView';

export function CardScreen() {
  const { planId = '' } = useParams();
  const plan = usePlan(planId);
  if (plan.isPending) return <Typography sx={{ p: 3 }}>Loading …</Typography>;
  if (plan.isError)
    return (
      <Typography color="error" sx={{ p: 3 }}>
        {wordsOf(plan.error)}
      </Typography>
    );
  const { card, problems } = makeCaptureCard(plan.data.name, plan.data.sheet);
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto 1fr', minHeight: 0 }}>
      <Box sx={{ display: 'flex', gap: 1, px: 2, py: 1, borderBottom: `1px solid ${GREY.rule}` }}>
        <Button component={Link} to={`/plan/${planId}`}>
          Back to the plan
        </Button>
        <Box sx={{ flex: 1 }} />
        {card && (
          <>
            <Button variant="outlined" onClick={() => saveAlone(card)}>
              Take along as a page
            </Button>
            <Button variant="contained" href={cardPdfUrl(planId)}>
              PDF
            </Button>
          </>
        )}
      </Box>
      <Box sx={{ overflow: 'auto', p: 2 }}>
        {card ? (
          <Box sx={{ maxWidth: 980, mx: 'auto' }}>
            <style>{CARD_CSS}</style>
            <CardView card={card} />
          </Box>
        ) : (
          <Warnings problems={problems} />
        )}
      </Box>
    </Box>
  );
}

/** Saves the card as a page of its own. */
function saveAlone(card: CaptureCard): void {
  const link = document.createElement('a');
  const url = URL.createObjectURL(new Blob([cardPage(card)], { type: 'text/html' }));
  link.href = url;
  link.download = `${card.title}, capture card.html`;
  link.click();
  URL.revokeObjectURL(url);
}
