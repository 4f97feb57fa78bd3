import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';

interface Chunk {
  file: string;
  imports?: string[];
}
type Manifest = Record<string, Chunk>;

/** The view that an address opens, as a source of the application. */
const VIEWS: readonly (readonly [RegExp, string])[] = [
  [/^\/stage/, 'src/app/views/stage/StageView.tsx'],
  [/^\/patch\/[^/]+\/sounds/, 'src/app/views/sounds/SoundsView.tsx'],
  [/^\/patch\/[^/]+\/control/, 'src/app/views/control/ControlView.tsx'],
  [/^\/patch\/[^/]+\/mix/, 'src/app/views/mix/MixView.tsx'],
  [/^\/patch\/[^/]+\/check/, 'src/app/views/check/CheckView.tsx'],
  [/./, 'src/app/views/layers/LayersView.tsx'],
];

/**
 * Tells a browser, with the page itself, which scripts the view behind an address needs: else it learns of them only
 * when the first ones have run. Gives the header `Link` for an address; undefined where the build tells nothing. A new
 * build under a server that runs is looked at anew.
 */
export function earlyScripts(root: string): (path: string) => string | undefined {
  const manifest = join(root, 'dist/.vite/manifest.json');
  let builtAt = 0;
  let links = new Map<string, string>();
  return (path) => {
    const time = statSync(manifest, { throwIfNoEntry: false })?.mtimeMs ?? 0;
    if (time !== builtAt) {
      builtAt = time;
      links = time > 0 ? linksOf(JSON.parse(readFileSync(manifest, 'utf8')) as Manifest) : new Map<string, string>();
    }
    return links.get(VIEWS.find(([pattern]) => pattern.test(path))![1]) || undefined;
  };
}

/** By view, its scripts but those that the page has anyway. */
function linksOf(manifest: Manifest): Map<string, string> {
  const page = filesOf(manifest, 'index.html');
  return new Map(
    VIEWS.map(([, view]) => {
      const files = [...filesOf(manifest, view)].filter((file) => !page.has(file));
      return [view, files.map((file) => `</${file}>; rel=modulepreload`).join(', ')];
    }),
  );
}

/** The scripts of a source, with all that they import from the start. */
function filesOf(manifest: Manifest, source: string, found = new Set<string>()): Set<string> {
  const chunk = manifest[source];
  if (!chunk || found.has(chunk.file)) return found;
  found.add(chunk.file);
  for (const each of chunk.imports ?? []) filesOf(manifest, each, found);
  return found;
}
