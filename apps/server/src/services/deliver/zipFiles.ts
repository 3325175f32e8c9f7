// Several files as one ZIP, streamed to the disk: pictures are kept as they are, since packing them again gains nothing.
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { finished } from 'node:stream/promises';
import { Zip, ZipPassThrough } from 'fflate';
import { RequestError } from '../../shared/requestError';

export interface ZippedFile {
  /** In the ZIP. */
  readonly name: string;
  readonly path: string;
}

/** Without the newer form of the format, which not every program reads, offsets end here. */
const MOST_BYTES = 4_200_000_000;

/** Name of the list of checksums, as `sha256sum -c` reads it. */
export const CHECKSUMS = 'checksums.sha256';

/**
 * Writes files into a ZIP, and a list of their SHA-256 sums beside them.
 * @throws RequestError when they are too large together
 */
export async function zipFiles(out: string, files: readonly ZippedFile[], signal?: AbortSignal): Promise<void> {
  const sizes = await Promise.all(files.map(async ({ path }) => (await stat(path)).size));
  const total = sizes.reduce((sum, size) => sum + size, 0);
  if (total > MOST_BYTES)
    throw new RequestError(
      413,
      `The delivery would be ${(total / 1e9).toFixed(1)} GB, more than one ZIP of ${MOST_BYTES / 1e9} GB holds. Leave the layers or masks out.`,
    );
  const target = createWriteStream(out);
  // A full disk is told by the stream; it must not go unheard before anybody waits for it.
  const done = finished(target);
  done.catch(() => undefined);
  let drained = Promise.resolve();
  const zip = new Zip((error, chunk, final) => {
    if (error) target.destroy(error);
    else if (!target.write(chunk)) drained = new Promise((resolve) => target.once('drain', resolve));
    if (final) target.end();
  });
  const sums: string[] = [];
  for (const { name, path } of files) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    const hash = createHash('sha256');
    for await (const part of createReadStream(path, { signal }) as AsyncIterable<Buffer>) {
      hash.update(part);
      entry.push(part);
      await Promise.race([drained, done]);
    }
    entry.push(new Uint8Array(0), true);
    sums.push(`${hash.digest('hex')}  ${name}\n`);
  }
  const list = new ZipPassThrough(CHECKSUMS);
  zip.add(list);
  list.push(new TextEncoder().encode(sums.join('')), true);
  zip.end();
  await done;
}
