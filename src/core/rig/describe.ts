import type { SchemaDescription } from 'yup';
import { MOVERS } from '../movers';
import { MAIN_PARAMETERS, XY_PARAMETERS, ZONE_PARAMETERS, type Parameter } from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import { rigSchema } from './schema';
import { RIG_VERSION } from './limits';

interface Described extends SchemaDescription {
  fields?: Record<string, Described>;
  innerType?: Described;
  meta?: { doc?: string; low?: number; high?: number };
}

/**
 * The written format of rig files, as Markdown, from the schema and the parameter registry: docs/rig-format.md is this
 * text.
 */
export function rigFormatMarkdown(): string {
  const sections: string[] = [];
  section('Rig', 'rig.json', rigSchema.describe() as Described, sections);
  return [
    '# The rig format',
    '',
    '*Made from `src/core/rig/schema.ts` by `npm run docs`; do not edit by hand.*',
    '',
    `A rig archive (\`.wavicle\`) is a zip that holds \`rig.json\` (UTF-8, version ${RIG_VERSION}) and \`samples/ID.wav\` for each sample, where ID is the SHA-256 of that file; nothing else.`,
    'Older versions are migrated when they are read. A file with a fault is refused with the path of the first one, such as `patches[1].layers[0].windows[0].high: 140 is above 127`.',
    'Ids never change; names may. Ids are letters, digits, `-` and `_`.',
    '',
    ...sections,
    '## Parameters of a layer',
    '',
    'In `params`, by id (the transposition and the curve of the touch are fields of their own); an absent one has its default. All are targets `layer.ID.PARAMETER`; what is read at the strike stays for the note.',
    '',
    ...parameterTable(Object.values(LAYER_PARAMETERS)),
    '',
    `A zone may have values of its own for ${ZONE_PARAMETERS.map((id) => `\`${id}\``).join(', ')}.`,
    '',
    '## Parameters of the main output',
    '',
    ...parameterTable(Object.values(MAIN_PARAMETERS)),
    '',
    '## Parameters of an XY pad',
    '',
    'x and y are fields of the pad; the others are in its `params`. Targets are `xy.N.PARAMETER`.',
    '',
    ...parameterTable(Object.values(XY_PARAMETERS)),
    '',
    ...MOVERS.flatMap((kind) => [
      `## Parameters of a mover: ${kind.label}`,
      '',
      `${kind.help} Source \`${kind.id}.N\`, ${kind.low} … 1; targets \`${kind.id}.N.PARAMETER\`.`,
      '',
      ...parameterTable(Object.values(kind.parameters)),
      '',
    ]),
    '## Sources',
    '',
    'One value for each note: `key` 0…127, `velocity` 1…127, `releaseVelocity`, `pressure`, `slide`, `random.1` … `random.8` (0…1, drawn for a strike and the same for all its layers), `scatter.1` … `scatter.8` (0…1, drawn for each voice), `alternate` (0 at one strike, 1 at the next).',
    'One for all: `cc.0` … `cc.127`, `channelPressure`, `bend` −1…1 (for each finger of an expressive controller), `macro.1` … `macro.16`, `xy.N.x`, `xy.N.y` and `xy.N.anchor.K` 0…1.',
    'As set, or as what moves them: `blend.1` … `blend.8` 0…1, and the movers above.',
    '',
  ].join('\n');
}

function section(title: string, place: string, described: Described, out: string[]): void {
  const rows: string[] = [];
  const nested: [string, string, Described][] = [];
  for (const [name, field] of Object.entries(described.fields ?? {})) {
    const inner = field.type === 'array' ? field.innerType! : field;
    const isTable = inner.type === 'object';
    const what = `${field.type === 'array' ? 'list of ' : ''}${isTable ? titleOf(name) : kindOf(inner)}${field.nullable ? ' or null' : ''}`;
    rows.push(`| \`${name}\` | ${what} | ${field.meta?.doc ?? inner.meta?.doc ?? ''} |`);
    if (isTable)
      nested.push([
        titleOf(name),
        `${place === 'rig.json' ? '' : `${place}.`}${name}${field.type === 'array' ? '[]' : ''}`,
        inner,
      ]);
  }
  out.push(`## ${title}`, '', `\`${place}\``, '', '| field | holds | meaning |', '|---|---|---|', ...rows, '');
  for (const [name, where, inner] of nested) section(name, where, inner, out);
}

const titleOf = (name: string): string =>
  (name.charAt(0).toUpperCase() + name.slice(1)).replace(
    /(ch)?(e?)s$/,
    (_, ch: string | undefined, e: string) => ch ?? e,
  );

function kindOf({ type, meta, oneOf }: Described): string {
  const choices = (oneOf ?? []).filter((choice) => choice !== null);
  if (choices.length > 0) return choices.map((choice) => `\`${String(choice)}\``).join(', ');
  if (type === 'number')
    return meta?.low === undefined ? 'number' : `${meta.low}${meta.high! >= 2 ** 31 ? ' or more' : ` … ${meta.high}`}`;
  return { string: 'text', boolean: 'true or false', mixed: 'see meaning' }[type] ?? type;
}

const parameterTable = (parameters: readonly Parameter[]): string[] => [
  '| id | range | default | law | routes are read | meaning |',
  '|---|---|---|---|---|---|',
  ...parameters.map(
    ({ id, unit, low, high, default: rest, law, atStrike, help }) =>
      `| \`${id}\` | ${low} … ${high} ${unit === 'pan' ? '' : unit} | ${Number(rest.toPrecision(4))} | ${law} | ${atStrike ? 'at the strike' : 'always'} | ${help} |`,
  ),
];
