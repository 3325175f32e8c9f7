// The command line.
import { Command } from 'commander';
import { inspectCommand, mergeCommand, type InspectOptions, type MergeCommandOptions } from './commands';
import { evaluateCommand, type EvaluateOptions } from './evaluate';
import { reportFailure } from './output';
import { sortCommand, type SortOptions } from './sort';
import { shootCommand, type ShootOptions } from './shoot';
import { repairCommand, type RepairOptions } from './repair';
import { summaryCommand, treeCommand, type TreeOptions } from './tree';
import { tidyWhenInterrupted } from './workspace';
import { endWithParent } from './endWithParent';

interface ServeOptions {
  readonly port: string;
  readonly data: string;
  readonly host?: string;
  readonly read?: readonly string[];
  readonly shareTiles?: boolean;
}

const program = new Command('blendrak')
  .description('Checks merged focus stacks, traces defects to their frames and repairs them with masks.')
  .exitOverride();

program
  .command('merge')
  .argument('<folder>', 'folder with the frames in shooting order by name')
  .requiredOption('--out <file>', 'merge to write (.tif 16 bit, .png 16 bit or .jpg)')
  .option('--kind <kind>', 'focus-stack, panorama or bracket (found out when left away)')
  .option('--projection <projection>', 'of a panorama: auto, flat, cylindrical, spherical or repositioned', 'auto')
  .option('--no-crop', 'keep the ragged edges of a panorama')
  .option('--method <method>', 'of a focus stack: labels, reference or bands; of a bracket: fusion or light')
  .option('--reference <frame>', 'file whose geometry the merge takes; of a focus stack or bracket')
  .option('--model <model>', 'of a focus stack or bracket: auto, shift, similarity, affine or homography', 'auto')
  .option('--bend <px>', 'shift frames locally, bending straight lines by no more than this', '0')
  .option('--sharp-part <frame>', 'align on what is sharp in this file; of a focus stack')
  .option('--report <file>', 'also write the report here (the merge is inspected for it)')
  .option('--mend', 'inspect the merge and repair what can be repaired before it is written')
  .option('--json-progress', 'print progress as JSON lines')
  .description('merge a folder of frames')
  .action(async (folder: string, options: MergeCommandOptions) => {
    process.exitCode = await mergeCommand(folder, options);
  });

program
  .command('inspect')
  .argument('<folder>', 'folder with the frames in shooting order by name')
  .requiredOption('--merge <file>', 'merge made from these frames, scaled, cropped or mildly toned')
  .requiredOption('--report <file>', 'report to write (JSON)')
  .option('--kind <kind>', 'focus-stack, panorama or bracket (found out when left away)')
  .option('--annotations <file>', 'also write the findings as W3C Web Annotations (JSON-LD)')
  .option('--also-unseen', 'report also what nobody sees on a screen at full size')
  .option('--false-alarms <number>', 'report the surest findings, until so many are expected to be nothing')
  .option('--fail-over <visibility>', 'leave with 1 only for findings at least so visible, 0 to 100')
  .option('--json-progress', 'print progress as JSON lines')
  .description('inspect a merge against its frames')
  .action(async (folder: string, options: InspectOptions) => {
    process.exitCode = await inspectCommand(folder, options);
  });

program
  .command('repair')
  .argument('<folder>', 'folder with the frames in shooting order by name')
  .requiredOption('--merge <file>', 'merge made from these frames')
  .requiredOption('--report <file>', 'report of this merge, as inspect wrote it')
  .requiredOption('--auto', 'mend by itself what can be mended; each repair is inspected before it is kept')
  .requiredOption('--out <file>', 'repaired merge to write (.tif 16 bit, .png 16 bit or .jpg)')
  .option('--over <visibility>', 'only findings at least so visible, 0 to 100', '20')
  .option('--json-progress', 'print progress as JSON lines')
  .description('repair what a report found')
  .action(async (folder: string, options: RepairOptions) => {
    process.exitCode = await repairCommand(folder, options);
  });

program
  .command('tree')
  .argument('<folder>', 'tree of folders, each with the frames of a set and its merge')
  .requiredOption('--reports <folder>', 'folder for the reports and their summary; a run that was ended goes on there')
  .option(
    '--merge-name <name>',
    'what merges are called, * for anything; those in a folder "merge" may have any name',
    '*merge*',
  )
  .option('--list', 'only print folder, merge and report of each set, for a batch engine')
  .option('--again', 'inspect what is known, too')
  .option('--false-alarms <number>', 'report the surest findings, until so many are expected to be nothing')
  .option('--fail-over <visibility>', 'leave with 1 only for findings at least so visible, 0 to 100')
  .option('--json-progress', 'print progress as JSON lines')
  .description('inspect all sets of a tree, unattended')
  .action(async (folder: string, options: TreeOptions) => {
    process.exitCode = await treeCommand(folder, options);
  });

program
  .command('summary')
  .argument('<folder>', 'folder with reports')
  .option('--fail-over <visibility>', 'leave with 1 only for findings at least so visible, 0 to 100')
  .description('say what the reports of a folder found')
  .action((folder: string, options: { failOver?: string }) => {
    process.exitCode = summaryCommand(folder, options);
  });

program
  .command('sort')
  .argument('<folder>', 'folder with the files of a card, any number of sets')
  .requiredOption('--report <file>', 'sets to write (JSON)')
  .option('--json-progress', 'print progress as JSON lines')
  .description('find the sets of a card and check their frames')
  .action(async (folder: string, options: SortOptions) => {
    process.exitCode = await sortCommand(folder, options);
  });

program
  .command('shoot')
  .argument('<folder>', 'new or empty folder for the frames')
  .requiredOption('--subject <subject>', 'gear-train, signal-flags, cove, tower, lamp-room or tower-nested')
  .option('--seed <number>', 'layout, light and motion follow from it (fresh when left away)')
  .option('--size <px>', 'longer side of a frame', '3000')
  .option('--frames <number>', 'focus distances, exposures, or columns of a panorama')
  .option('--step <number>', 'dioptres (stack), EV (bracket) or overlap as a share (panorama) between frames')
  .option('--rows <number>', 'rows of a panorama')
  .option('--focal-length <mm>')
  .option('--aperture <f-number>')
  .option('--iso <number>')
  .option('--wind <number>', '0 calm, 1 fresh breeze, 2 strong')
  .option('--hand', 'hold the camera by hand instead of on a tripod')
  .option('--pupil-offset <mm>', 'from the turning axis to the entrance pupil')
  .option('--uncorrected', 'leave distortion, vignetting and lateral colour in the files')
  .option('--dust <number>', 'specks on the sensor')
  .option('--format <format>', 'jpeg, png or tiff', 'jpeg')
  .option('--bits <bits>', '8 or 16 (JPEG holds 8)', '8')
  .option('--separator', 'end the set with a frame of the hand')
  .option('--merge', 'also compose a merge made elsewhere with defects, and the truth about it, in FOLDER/merge')
  .option('--json-progress', 'print progress as JSON lines')
  .description('photograph a set with the simulated camera')
  .action(async (folder: string, options: ShootOptions) => {
    process.exitCode = await shootCommand(folder, options);
  });

program
  .command('evaluate')
  .option('--kinds <kinds>', 'kinds of set, separated by commas', 'focus-stack,panorama,bracket')
  .option('--scenes <number>', 'scenes of each kind', '3')
  .option('--size <px>', 'longer side of a frame', '1200')
  .option('--seed <number>', 'first seed (fresh when left away)')
  .option('--report <file>', 'also write the figures here (JSON)')
  .option(
    '--finished',
    'also inspects the clean merges sharpened, toned, resized … as people do before they have them checked',
  )
  .option('--keep <folder>', 'keep frames, merges, truth and reports here')
  .option('--calibration <file>', 'write here how sure findings are, learnt from these scenes (TypeScript)')
  .description('measure the product on freshly rendered scenes')
  .action(async (options: EvaluateOptions) => {
    process.exitCode = await evaluateCommand(options);
  });

for (const [name, demo] of [
  ['serve', false],
  ['demo', true],
] as const) {
  program
    .command(name)
    .option('--port <number>', 'port to listen on (or PORT)', process.env['PORT'] ?? '4310')
    .option('--data <folder>', 'data folder (or BLENDRAK_DATA)', process.env['BLENDRAK_DATA'] ?? 'data')
    .option('--host <address>', 'listen on this address, too; then only with the token that is printed')
    .option('--read <folder...>', 'folders that pictures may be read from where they lie (default: your home folder)')
    .option('--share-tiles', 'let pages of other sites read tiles, for IIIF viewers')
    .description(demo ? 'start the application with demo data' : 'start the application')
    .action(async (options: ServeOptions) => {
      const { startServer } = await import('../api/startServer');
      await startServer({
        port: Number(options.port),
        host: options.host ?? null,
        dataFolder: options.data,
        readFolders: options.read ?? [],
        shareTiles: options.shareTiles ?? false,
        demo,
      });
    });
}

// A server stops in its own way; all other commands leave nothing behind.
program.hook('preAction', (_program, command) => {
  if (['serve', 'demo'].includes(command.name())) return;
  tidyWhenInterrupted();
  endWithParent();
});

try {
  await program.parseAsync();
} catch (error) {
  const code = error instanceof Error && 'exitCode' in error ? Number(error.exitCode) : null;
  process.exitCode = code === null ? reportFailure(error) : code === 0 ? 0 : 2;
}
