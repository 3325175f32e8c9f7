// A place to drop files, or to choose them with the file dialog.
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useDropzone } from 'react-dropzone';
import { GREY } from '../../app/theme';

interface DropBoxProps {
  readonly label: string;
  readonly hint: string;
  readonly multiple?: boolean;
  readonly onFiles: (files: readonly File[]) => void;
}

export function DropBox({ label, hint, multiple = false, onFiles }: DropBoxProps) {
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: onFiles,
    multiple,
    noClick: true,
    noKeyboard: true,
  });
  return (
    <Box
      {...getRootProps()}
      sx={{
        border: `1px dashed ${isDragActive ? GREY.text : GREY.quiet}`,
        bgcolor: isDragActive ? GREY.raised : 'transparent',
        p: 2,
        textAlign: 'center',
      }}
    >
      <input {...getInputProps()} aria-label={label} />
      <Typography sx={{ fontWeight: 650 }}>{label}</Typography>
      <Button color="inherit" variant="outlined" sx={{ my: 0.5 }} onClick={open} aria-label={`Choose files: ${label}`}>
        Drop here, or choose
      </Button>
      <br />
      <Typography variant="caption" color="text.secondary">
        {hint}
      </Typography>
    </Box>
  );
}
