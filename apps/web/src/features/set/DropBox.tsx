// A place to drop files, or to choose them with the file dialog.
import Box from '@mui/material/Box';
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
  const { getRootProps, getInputProps, isDragActive } = useDropzone({ onDrop: onFiles, multiple });
  return (
    <Box
      {...getRootProps({ role: 'button', 'aria-label': `${label}: drop files here or press Enter to choose` })}
      sx={{
        border: `1px dashed ${isDragActive ? GREY.text : GREY.quiet}`,
        bgcolor: isDragActive ? GREY.raised : 'transparent',
        p: 2,
        cursor: 'pointer',
        textAlign: 'center',
      }}
    >
      <input {...getInputProps()} aria-label={label} />
      <Typography sx={{ fontWeight: 650 }}>{label}</Typography>
      <Typography variant="body2" color="text.secondary">
        Drop here, or choose files
      </Typography>
      <Typography variant="caption" color="text.secondary">
        {hint}
      </Typography>
    </Box>
  );
}
