import { checkPatch } from '../core/check';
import { readArguments } from './arguments';
import { Failure } from './failure';
import { findPatch, readArchiveFile } from './files';

/** `check RIG [--patch NAME] [--strict]`: what the rules find in the rig's own numbers. */
export function check(args: string[]): unknown {
  const { values, file } = readArguments(args, { patch: { type: 'string' }, strict: { type: 'boolean' } }, 'RIG');
  const { rig } = readArchiveFile(file);
  const patches = values.patch === undefined ? rig.patches : [findPatch(rig, values.patch as string)];
  const findings = patches.flatMap((patch) => checkPatch(rig, patch).map(({ rule, grade, where, message, fixes }) => ({ rule, severity: grade, where: { patch: patch.name, layers: where.layerIds.map((id) => patch.layers.find((layer) => layer.id === id)?.name ?? id), keys: where.keys, macro: where.macro }, message, edits: fixes.map(({ label }) => label) })));
  if (values.strict && findings.some(({ severity }) => severity !== 'taste')) {
    process.stdout.write(`${JSON.stringify({ findings }, null, 2)}\n`);
    const count = findings.filter(({ severity }) => severity !== 'taste').length;
    throw new Failure(count === 1 ? '1 finding that is no matter of taste' : `${count} findings that are no matter of taste`, 1);
  }
  return { findings };
}
