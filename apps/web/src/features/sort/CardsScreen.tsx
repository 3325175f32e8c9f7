// Cards: name a folder or drop files, and all cards taken in so far.
import DeleteOutlined from '@mui/icons-material/DeleteOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import type { CardSummary } from '@blendrak/contract';
import { GREY } from '../../app/theme';
import { wordsOf } from '../../shared/api';
import { WorkProgress } from '../../shared/WorkProgress';
import { useAddCard, useCards, useRemoveCard } from './useCard';

export function CardsScreen() {
  const cards = useCards();
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box sx={{ maxWidth: 1080, mx: 'auto', p: 3, display: 'grid', gap: 3 }}>
        <Box>
          <Typography variant="h1">Sort</Typography>
          <Typography color="text.secondary" sx={{ maxWidth: 720 }}>
            Bring a whole card with any number of sets on it. Blendrak says which frames belong together, as what, and
            whether they agree.
          </Typography>
        </Box>
        <NewCard />
        {cards.isError && (
          <Typography role="alert" color="error">
            {wordsOf(cards.error)}
          </Typography>
        )}
        {cards.data && <CardList cards={cards.data} />}
      </Box>
    </Box>
  );
}

function NewCard() {
  const navigate = useNavigate();
  const [folder, setFolder] = useState('');
  const add = useAddCard((card) => void navigate(`/sort/${card.summary.id}`));
  const today = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long' });
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    onDrop: (files) => files.length > 0 && add.mutate({ name: `Card of ${today}`, folder: null, files }),
    disabled: add.isPending,
  });
  const name = folder.split(/[\\/]/).filter(Boolean).at(-1) ?? folder;
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 3 }}>
      <Box
        {...getRootProps()}
        sx={{
          border: `1px dashed ${isDragActive ? GREY.text : GREY.quiet}`,
          p: 3,
          textAlign: 'center',
          cursor: 'pointer',
          bgcolor: isDragActive ? GREY.raised : 'transparent',
        }}
      >
        <input {...getInputProps({ 'aria-label': 'Files of a card' })} />
        <Typography sx={{ fontWeight: 650 }}>
          {add.isPending ? 'Taking files in …' : 'Drop a card’s files, or choose them'}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          JPEG, PNG, TIFF, WebP or AVIF, mixed as they are
        </Typography>
      </Box>
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate({ name, folder: folder.trim(), files: [] });
        }}
        sx={{ display: 'grid', gap: 1, alignContent: 'start' }}
      >
        <TextField
          size="small"
          label="Or a folder on this machine"
          value={folder}
          helperText="read where it lies; nothing is moved"
          onChange={(event) => setFolder(event.target.value)}
        />
        <Button
          type="submit"
          variant="outlined"
          disabled={folder.trim() === '' || add.isPending}
          sx={{ justifySelf: 'start' }}
        >
          Read the folder
        </Button>
      </Box>
    </Box>
  );
}

function CardList({ cards }: { readonly cards: readonly CardSummary[] }) {
  const remove = useRemoveCard();
  if (cards.length === 0) return <Typography color="text.secondary">No card yet.</Typography>;
  return (
    <Box component="ul" aria-label="Cards" sx={{ listStyle: 'none', m: 0, p: 0, borderTop: `1px solid ${GREY.rule}` }}>
      {cards.map((card) => (
        <Box
          component="li"
          key={card.id}
          sx={{ display: 'flex', gap: 2, py: 1.25, alignItems: 'center', borderBottom: `1px solid ${GREY.rule}` }}
        >
          <Box sx={{ flex: 1 }}>
            <Typography component={Link} to={`/sort/${card.id}`} sx={{ color: 'inherit', fontWeight: 650 }}>
              {card.name}
            </Typography>
            <Typography variant="body2" color="text.secondary">
              {card.files} files{card.sets > 0 ? `, ${card.sets} sets` : ''}
            </Typography>
          </Box>
          {card.work && (
            <Box sx={{ width: 320 }}>
              <WorkProgress work={card.work} />
            </Box>
          )}
          <IconButton
            aria-label={`Remove ${card.name}`}
            onClick={() => {
              if (
                window.confirm(
                  `Remove “${card.name}” from the list? Files in a folder stay where they are; jobs keep their frames.`,
                )
              )
                remove.mutate(card.id);
            }}
          >
            <DeleteOutlined fontSize="small" />
          </IconButton>
        </Box>
      ))}
    </Box>
  );
}
