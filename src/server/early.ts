import { readFileSync } from 'node:fs';
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
 * when the first ones have run. Gives the header `Link` for an address; undefined where the build tells nothing.
 */
export function earlyScripts(root: string): (path: string) => string | undefined {
  let manifest: Manifest;
  try {
    manifest = JSON.parse(readFileSync(join(root, 'dist/.vite/manifest.json'), 'utf8')) as Manifest;
  } catch {
    return () => undefined;
  }
  const page = filesOf(manifest, 'index.html');
  const links = new Map(
    VIEWS.map(([, view]) => {
      const files = [...filesOf(manifest, view)].filter((file) => !page.has(file));
      return [view, files.map((file) => `</${file}>; rel=modulepreload`).join(', ')];
    }),
  );
  return (path) => links.get(VIEWS.find(([pattern]) => pattern.test(path))![1]) || undefined;
}

/** The scripts of a source, with all that they import from the start. */
function filesOf(manifest: Manifest, source: string, found = new Set<string>()): Set<string> {
  const chunk = manifest[source];
  if (!chunk || found.has(chunk.file)) return found;
  found.add(chunk.file);
  for (const each of chunk.imports ?? []) filesOf(manifest, each, found);
  return found;
}
