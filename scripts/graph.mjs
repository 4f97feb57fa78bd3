/**
 * npm run graph: writes docs/imports.md, the imports between the floors of core, the chapters of the engine and the
 * rooms of the application, as dependency-cruiser finds them. Numbers are files that import; what runs against the
 * order in which they stand is told, and ends with 1.
 */
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './ensure.mjs';

const CHARTS = [
  {
    title: 'Floors of core',
    base: 'src/core/',
    order: 'music space movers sounds dsp effects rig mapping engine bounce measure draws check formats remote'.split(
      ' ',
    ),
    isHouse: false,
  },
  {
    title: 'Chapters of the engine',
    base: 'src/core/engine/',
    order: 'hands program moving notes voice mix patch engine.ts offline pictures'.split(' '),
    isHouse: true,
    // The door of the engine is three files.
    names: { 'readings.ts': 'engine.ts', 'rendering.ts': 'engine.ts' },
  },
  {
    title: 'Rooms of the application',
    base: 'src/app/',
    order: 'document listening sound jobs show hands parts views remote'.split(' '),
    isHouse: true,
    leftOut: ['main.tsx', 'App.tsx'],
  },
];

const { stdout, status, stderr } = spawnSync(
  process.execPath,
  [
    join(root, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs'),
    ...['src', '--config', '.dependency-cruiser.cjs', '-T', 'json', '--exclude', '\\.test\\.'],
  ],
  { cwd: root, encoding: 'utf8', maxBuffer: 1e9 },
);
if (status !== 0 && !stdout) throw new Error(stderr);
const { modules } = JSON.parse(stdout);

let backwards = 0;
const chart = ({ title, base, order, names = {}, leftOut = [], isHouse }) => {
  const nameOf = (path) => {
    if (!path.startsWith(base)) return undefined;
    const first = path.slice(base.length).split('/')[0];
    return leftOut.includes(first) ? undefined : (names[first] ?? first);
  };
  const counts = new Map();
  for (const { source, dependencies } of modules) {
    const from = nameOf(source);
    const to = new Set(dependencies.map(({ resolved }) => nameOf(resolved)));
    for (const each of to)
      if (from && each && from !== each) counts.set(`${from} ${each}`, (counts.get(`${from} ${each}`) ?? 0) + 1);
  }
  const arrows = [...counts].map(([pair, count]) => [...pair.split(' '), count]);
  const at = (name) => order.indexOf(name);
  const back = isHouse ? arrows.filter(([from, to]) => at(from) < at(to)) : [];
  for (const [from, to, count] of back) console.error(`${title}: ${from} imports ${to} (${count} files)`);
  backwards += back.length;
  const found = [...new Set(arrows.flatMap(([from, to]) => [from, to]))].sort((a, b) => at(a) - at(b));
  return [
    `## ${title}`,
    '',
    '```mermaid',
    'flowchart BT',
    ...found.map((name) => `  ${name.replace('.', '_')}[${name}]`),
    ...arrows
      .sort(([a, b], [c, d]) => at(a) - at(c) || at(b) - at(d))
      .map(([from, to, count]) => `  ${from.replace('.', '_')} -- ${count} --> ${to.replace('.', '_')}`),
    '```',
    '',
  ].join('\n');
};

writeFileSync(
  join(root, 'docs/imports.md'),
  [
    '# Who knows whom',
    '',
    'Written by `npm run graph`. An arrow says that files of one folder import from another, its number how many files',
    'do. Chapters and rooms stand in the order in which they may know one another; nothing runs back.',
    '',
    ...CHARTS.map(chart),
  ].join('\n'),
);
process.exit(backwards > 0 ? 1 : 0);
