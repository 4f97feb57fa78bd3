import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join, sep } from 'node:path';
import type { Plugin } from 'vite';

interface Package {
  name: string;
  version: string;
  license?: string;
  author?: string | { name?: string };
}
/** Licences whose terms are met by naming them with their text. */
const FREE =
  /^\(?(MIT|ISC|0BSD|BSD-2-Clause|BSD-3-Clause|Apache-2\.0|Zlib|OFL-1\.1|CC0-1\.0|Unlicense|MIT-0|BlueOak-1\.0\.0)\b/;
/** Licences that want a part to be exchangeable: it lies in a file of its own, named after it. */
const EXCHANGEABLE = /^\(?LGPL/;

/** The folder of the package that a module belongs to; undefined: it is ours. */
export function packageOf(id: string): string | undefined {
  const path = id.split('?')[0].replaceAll('\0', '');
  const at = path.lastIndexOf(`${sep}node_modules${sep}`);
  if (at < 0) return undefined;
  const steps = path.slice(at + 14).split(sep);
  return path.slice(0, at + 14) + steps.slice(0, steps[0].startsWith('@') ? 2 : 1).join(sep);
}

export const readPackage = (folder: string): Package =>
  JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as Package;

/** The chunk that a module must lie in by its licence: one of its package alone. */
export function chunkByLicence(id: string): string | undefined {
  const folder = packageOf(id);
  if (!folder || !existsSync(join(folder, 'package.json'))) return undefined;
  const { name, license } = readPackage(folder);
  return EXCHANGEABLE.test(license ?? '') ? `exchangeable-${name.replace(/[^a-z0-9]+/gi, '-')}` : undefined;
}

/**
 * What a page of licences says of some packages, in the order of their names. Throws where one has a licence that
 * nobody has looked at.
 */
export function licenceText(folders: Iterable<string>): string {
  const known = new Map([...folders].map((folder) => [folder, readPackage(folder)] as const));
  const parts = [...known]
    .sort(([, a], [, b]) => a.name.localeCompare(b.name))
    .map(([folder, { name, version, license = '', author }]) => {
      if (!FREE.test(license) && !EXCHANGEABLE.test(license))
        throw new Error(`${name} has the licence “${license}”: nobody has looked at whether it may be bundled`);
      const file = readdirSync(folder).find((each) => /^(licen[cs]e|copying)/i.test(each));
      const by = typeof author === 'string' ? author : author?.name;
      const exchangeable = EXCHANGEABLE.test(license)
        ? `\nIt lies in files of its own, whose names begin with “${chunkByLicence(join(folder, 'x'))}”: they can be exchanged for others that are built of another version.`
        : '';
      return `${name} ${version}\nLicence: ${license}${by ? `\nBy: ${by}` : ''}${exchangeable}\n\n${file ? readFileSync(join(folder, file), 'utf8').trim() : '(The package has no file with the text of its licence.)'}`;
    });
  return `What Wavicle is built with, besides what is its own (MIT licence).\n\n${parts.join(`\n\n${'-'.repeat(80)}\n\n`)}\n`;
}

/** Packages that went into any of the bundles: the page’s and those of its workers. */
const bundled = new Set<string>();
/** Remembers what is bundled. */
export const remembersLicences = (): Plugin => ({
  name: 'remembers-licences',
  moduleParsed({ id }) {
    const folder = packageOf(id);
    if (folder && existsSync(join(folder, 'package.json'))) bundled.add(folder);
  },
});
/** Writes one file with all licences beside the application. */
export const writesLicences = (): Plugin => ({
  name: 'writes-licences',
  apply: 'build',
  // Workers are bundled before what asks for them.
  generateBundle() {
    this.emitFile({ type: 'asset', fileName: 'licences.txt', source: licenceText(bundled) });
  },
});
