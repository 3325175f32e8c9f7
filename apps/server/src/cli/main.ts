// The command line.
import { Command } from 'commander';
import { inspectCommand, mergeCommand, type CommonOptions } from './commands';
import { reportFailure } from './output';

const program = new Command('blendrak')
  .description('Checks merged focus stacks, traces defects to their frames and repairs them with masks.')
  .exitOverride();

program
  .command('merge')
  .argument('<folder>', 'folder with the frames in shooting order by name')
  .requiredOption('--out <file>', 'merge to write (.tif 16 bit, .png 16 bit or .jpg)')
  .option('--kind <kind>', 'focus-stack (found out when left away)')
  .option('--report <file>', 'also inspect the merge and write the report here')
  .option('--json-progress', 'print progress as JSON lines')
  .description('merge a folder of frames')
  .action(async (folder: string, options: CommonOptions & { out: string }) => {
    process.exitCode = await mergeCommand(folder, options);
  });

program
  .command('inspect')
  .argument('<folder>', 'folder with the frames in shooting order by name')
  .requiredOption('--merge <file>', 'merge made from these frames, scaled, cropped or mildly toned')
  .requiredOption('--report <file>', 'report to write (JSON)')
  .option('--kind <kind>', 'focus-stack (found out when left away)')
  .option('--json-progress', 'print progress as JSON lines')
  .description('inspect a merge against its frames')
  .action(async (folder: string, options: CommonOptions & { merge: string; report: string }) => {
    process.exitCode = await inspectCommand(folder, options);
  });

for (const [name, demo] of [
  ['serve', false],
  ['demo', true],
] as const) {
  program
    .command(name)
    .option('--port <number>', 'port to listen on (or PORT)', process.env['PORT'] ?? '4310')
    .option('--data <folder>', 'data folder (or BLENDRAK_DATA)', process.env['BLENDRAK_DATA'] ?? 'data')
    .description(demo ? 'start the application with demo data' : 'start the application')
    .action(async (options: { port: string; data: string }) => {
      const { startServer } = await import('../api/startServer');
      await startServer({ port: Number(options.port), dataFolder: options.data, demo });
    });
}

try {
  await program.parseAsync();
} catch (error) {
  const code = error instanceof Error && 'exitCode' in error ? Number(error.exitCode) : null;
  process.exitCode = code === null ? reportFailure(error) : code === 0 ? 0 : 2;
}
