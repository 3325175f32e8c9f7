// One theme: pure neutral greys around the picture, hue only for status.
import { createTheme } from '@mui/material/styles';

export const MONO = "'JetBrains Mono Variable', monospace";

/** Greys of the chrome, R = G = B throughout. */
export const GREY = {
  page: '#2e2e2e',
  panel: '#383838',
  raised: '#444444',
  rule: '#565656',
  text: '#f2f2f2',
  quiet: '#c4c4c4',
} as const;

export const theme = createTheme({
  palette: {
    mode: 'dark',
    primary: { main: '#f2f2f2', contrastText: '#1c1c1c' },
    secondary: { main: '#c4c4c4', contrastText: '#1c1c1c' },
    error: { main: '#ff9a8d' },
    warning: { main: '#f0c060' },
    success: { main: '#8fd19a' },
    info: { main: '#c4c4c4' },
    background: { default: GREY.page, paper: GREY.panel },
    text: { primary: GREY.text, secondary: GREY.quiet },
    divider: GREY.rule,
  },
  shape: { borderRadius: 3 },
  typography: {
    fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
    fontSize: 13,
    h1: { fontSize: '1.35rem', fontWeight: 650 },
    h2: { fontSize: '1.05rem', fontWeight: 650 },
    h3: { fontSize: '0.92rem', fontWeight: 650 },
    button: { textTransform: 'none', fontWeight: 600 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: 'tabular-nums' },
        '*:focus-visible': { outline: '2px solid #ffffff', outlineOffset: '1px' },
        '@media (prefers-reduced-motion: reduce)': {
          '*': { animation: 'none !important', transition: 'none !important' },
        },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiTooltip: { defaultProps: { enterDelay: 500 } },
  },
});
