/** The command line: JSON (or help) on stdout, messages on stderr, exit 0, 1 (bad input, named) or 2 (usage). */
import { joinNegativeNumbers, UsageError } from './args.ts';

const USAGE = `usage: yappa COMMAND …

  slice FILE… [--method hits|grid|equal|pitch] [--sensitivity 0..1] [--division 16] [--count 16]
              [--tempo BPM] [--bars N] [--out DIR]      cut sound files; --out writes each slice as WAV
  stretch IN --out OUT.wav --from BPM --to BPM [--semitones S] [--follow slices|stretch|speed]
              [--material drums|notes|mixes] [--tail ring|fade|leave]      another tempo or pitch
  root FILE…                                            the note of each file
  capture FILE… [--open dB] [--close dB] [--pause ms]   the hits of a recording
  find FILE… [--look-for drums|loops] [--bars 1,2,4] [--from BPM] [--to BPM] [--seamless 0..1] [--others 0..1]
              [--out DIR]      the breaks in long recordings; --out writes each as WAV
  render PROJECT.zip… --out MIX.wav [--rounds N] [--pattern NAME] [--samples wav16|wav24|wav32|flac16|flac24|mp3|ogg]
              [--rate 44100] [--cut]      the mix: the running order if there is one, else rounds of what is on
  export PROJECT.zip… --as slices|stems|midi|sfz --out DIR [--samples …] [--dry] [--by-drum] [--sounding] [--together]
                  [--names '{source} {number} {slice}'] [--as-heard] [--drum-keys]
  import FILE|FOLDER… [--tags A,B] [--port 4780]        sounds and projects onto the shelf of the running
              application; names of folders become tags
  backup --out FILE [--port 4780]                       everything of the running application as one file
`;

const commands: Record<string, () => Promise<(args: string[]) => Promise<number>>> = {
  slice: async () => (await import('./slice.ts')).runSlice,
  stretch: async () => (await import('./stretch.ts')).runStretch,
  root: async () => (await import('./root.ts')).runRoot,
  capture: async () => (await import('./capture.ts')).runCapture,
  find: async () => (await import('./find.ts')).runFind,
  render: async () => (await import('./render.ts')).runRender,
  export: async () => (await import('./export.ts')).runExport,
  import: async () => (await import('./import.ts')).runImport,
  backup: async () => (await import('./backup.ts')).runBackup,
};

const HELP = new Set(['help', '--help', '-h']);

/** Runs one command and gives the exit code. */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (HELP.has(name ?? '') || rest.includes('--help')) {
    process.stdout.write(USAGE);
    return 0;
  }
  const load = name === undefined ? undefined : commands[name];
  try {
    if (!load) throw new UsageError(name === undefined ? 'name a command' : `there is no command "${name}"`);
    const run = await load();
    return await run(joinNegativeNumbers(rest));
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? '';
    if (error instanceof UsageError || code.startsWith('ERR_PARSE_ARGS')) {
      process.stderr.write(`${(error as Error).message}\n\n${USAGE}`);
      return 2;
    }
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    return 1;
  }
}

process.exitCode = await main(process.argv.slice(2));
