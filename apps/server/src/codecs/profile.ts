// Colour profiles in picture files (ICC.1:2022): whether one can be used, and what it calls itself.

const HEADER_BYTES = 128;
const TAG_BYTES = 12;
/** Said in place of a name; the picture is taken as sRGB then. */
export const BROKEN_PROFILE = 'damaged profile, ignored';

export interface Profile {
  readonly icc: Buffer | null;
  readonly name: string | null;
}

/** A picture's profile; a broken one is left out and named as such: it must not make a good picture fail. */
export function readProfile(icc: Buffer | undefined): Profile {
  if (!icc) return { icc: null, name: null };
  if (!isWhole(icc)) return { icc: null, name: BROKEN_PROFILE };
  return { icc, name: describedAs(icc) ?? 'embedded profile' };
}

/** Signature, size and table of tags as the standard has them. */
function isWhole(icc: Buffer): boolean {
  if (icc.length < HEADER_BYTES + 4) return false;
  if (icc.toString('latin1', 36, 40) !== 'acsp' || icc.readUInt32BE(0) > icc.length) return false;
  return tagsOf(icc).every(({ start, length }) => start >= HEADER_BYTES && start + length <= icc.length);
}

interface Tag {
  readonly name: string;
  readonly start: number;
  readonly length: number;
}

function tagsOf(icc: Buffer): Tag[] {
  const count = icc.readUInt32BE(HEADER_BYTES);
  const table = icc.subarray(HEADER_BYTES + 4, HEADER_BYTES + 4 + count * TAG_BYTES);
  const broken = { name: '', start: 0, length: 0 };
  if (table.length < count * TAG_BYTES) return [broken];
  return Array.from({ length: count }, (_, i) => ({
    name: table.toString('latin1', i * TAG_BYTES, i * TAG_BYTES + 4),
    start: table.readUInt32BE(i * TAG_BYTES + 4),
    length: table.readUInt32BE(i * TAG_BYTES + 8),
  }));
}

/** The text of the tag `desc`; null when it holds none that can be read. */
function describedAs(icc: Buffer): string | null {
  const tag = tagsOf(icc).find(({ name }) => name === 'desc');
  if (!tag || tag.length < 12) return null;
  const data = icc.subarray(tag.start, tag.start + tag.length);
  const type = data.toString('latin1', 0, 4);
  if (type === 'desc') return clean(data.toString('latin1', 12, 12 + data.readUInt32BE(8)));
  if (type !== 'mluc' || data.length < 28) return null;
  const from = data.readUInt32BE(24);
  // Whole UTF-16 units only: a length that is odd is the writer's mistake, not the picture's.
  const bytes = Math.min(data.readUInt32BE(20), Math.max(0, data.length - from)) & ~1;
  return clean(
    Buffer.from(data.subarray(from, from + bytes))
      .swap16()
      .toString('utf16le'),
  );
}

function clean(text: string): string | null {
  const [words] = text.split('\0');
  return words?.trim().slice(0, 120) || null;
}
