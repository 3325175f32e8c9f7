// Fonts for print, shipped with the application.
import { createRequire } from 'node:module';

const here = createRequire(import.meta.url);
const file = (weight: number): string =>
  here.resolve(`@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-${weight}-normal.woff`);

/** Paths of the font files. */
export const FONTS = { regular: file(400), bold: file(700) } as const;
