// A PDF in memory.
import PDFDocument from 'pdfkit';
import { FONTS } from './fonts';

export type Pdf = InstanceType<typeof PDFDocument>;

/**
 * Draws a PDF with the fonts `text` and `strong`.
 * @param draw draws on it; its first page is there
 * @returns its bytes
 */
export async function pdfBytes(
  title: string,
  [width, height]: readonly [widthPt: number, heightPt: number],
  draw: (doc: Pdf) => void,
): Promise<Buffer> {
  const doc = new PDFDocument({
    size: [width, height],
    margin: 0,
    bufferPages: true,
    info: { Title: title, Creator: 'Blendrak' },
  });
  const parts: Buffer[] = [];
  doc.on('data', (part: Buffer) => parts.push(part));
  const finished = new Promise<void>((resolve, reject) => {
    doc.on('end', resolve);
    doc.on('error', reject);
  });
  doc.registerFont('text', FONTS.regular).registerFont('strong', FONTS.bold);
  draw(doc);
  doc.end();
  await finished;
  return Buffer.concat(parts);
}
