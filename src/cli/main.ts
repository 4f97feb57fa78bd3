import { Failure } from './failure';

/** Each command is loaded only when it is asked for, so that a quick one stays quick. */
const COMMANDS: Record<string, () => Promise<(args: string[]) => unknown>> = {
  demo: async () => (await import('./demo')).demo,
  show: async () => (await import('./show')).show,
  resolve: async () => (await import('./resolve')).resolve,
  render: async () => (await import('./render')).render,
  import: async () => (await import('./import')).importFiles,
  export: async () => (await import('./export')).exportFiles,
};

async function main([name, ...args]: string[]): Promise<void> {
  if (!name || !Object.hasOwn(COMMANDS, name)) throw new Failure(`${name ? `"${name}" is no command` : 'a command is missing'}; there are ${Object.keys(COMMANDS).join(', ')}`, 2);
  const run = await COMMANDS[name]();
  process.stdout.write(`${JSON.stringify(await run(args), null, 2)}\n`);
}

main(process.argv.slice(2)).catch((error: unknown) => {
  const message = error instanceof Error ? error.message : String(error);
  process.stderr.write(`wavicle: ${message.replace(/\s*\n\s*/g, ' ')}\n`);
  process.exitCode = error instanceof Failure ? error.exitCode : 1;
});
