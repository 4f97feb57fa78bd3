import { Failure } from './failure';
import { help, type CommandName } from './usage';

/** Each command is loaded only when it is asked for, so that a quick one stays quick. */
const COMMANDS: Record<CommandName, () => Promise<(args: string[]) => unknown>> = {
  demo: async () => (await import('./demo')).demo,
  show: async () => (await import('./show')).show,
  resolve: async () => (await import('./resolve')).resolve,
  render: async () => (await import('./render')).render,
  moves: async () => (await import('./moves')).moves,
  paths: async () => (await import('./paths')).paths,
  check: async () => (await import('./check')).check,
  rehearse: async () => (await import('./rehearse')).rehearse,
  draw: async () => (await import('./draw')).draw,
  bounce: async () => (await import('./bounce')).bounce,
  import: async () => (await import('./import')).importFiles,
  export: async () => (await import('./export')).exportFiles,
};

async function main([name, ...args]: string[]): Promise<void> {
  const isCommand = (text: string | undefined): text is CommandName =>
    text !== undefined && Object.hasOwn(COMMANDS, text);
  const wantsHelp = [name, ...args].some((each) => each === '--help' || each === '-h') || name === 'help';
  if (wantsHelp && (isCommand(name) || name === 'help' || name.startsWith('-'))) {
    process.stdout.write(`${help(isCommand(name) ? name : isCommand(args[0]) ? args[0] : undefined)}\n`);
    return;
  }
  if (!isCommand(name))
    throw new Failure(
      `${name ? `"${name}" is no command` : 'a command is missing'}; there are ${Object.keys(COMMANDS).join(', ')}, and --help`,
      2,
    );
  const run = await COMMANDS[name]();
  process.stdout.write(`${JSON.stringify(await run(args), null, 2)}\n`);
}

// A reader that has seen enough closes the pipe: that is the end, and no fault.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});

main(process.argv.slice(2)).catch((error: unknown) => {
  const message = error instanceof Error ? error.message : String(error);
  process.stderr.write(`wavicle: ${message.replace(/\s*\n\s*/g, ' ')}\n`);
  process.exitCode = error instanceof Failure ? error.exitCode : 1;
});
