import { chunkByLicence } from './licences';

/** What a bundler tells of a module: what it imports from the start. */
interface Modules {
  getModuleInfo(id: string): { importedIds: readonly string[] } | null;
}

const PAGE = '/src/app/main.tsx',
  REMOTE = '/src/app/remote/main.tsx',
  FIRST_VIEW = '/src/app/views/layers/LayersView.tsx';
const OTHER_VIEWS = ['sounds/Sounds', 'control/Control', 'mix/Mix', 'check/Check', 'stage/Stage'].map(
  (name) => `/src/app/views/${name}View.tsx`,
);

/**
 * Puts what is always loaded together into one file: what the page and a remote have in common, what the page begins
 * with, what its first view shares with others, and what that has alone. Left to itself the bundler makes some sixty
 * small files of it, and asking for each takes longer than fetching it. `root`: the project's folder.
 */
export class Chunks {
  private readonly closures = new Map<string, Set<string>>();

  constructor(private readonly root: string) {}

  readonly nameOf = (id: string, modules: Modules): string | undefined => {
    const byLicence = chunkByLicence(id);
    if (byLicence) return byLicence;
    const isIn = (entry: string) => this.closure(entry, modules).has(id);
    const onRemote = isIn(REMOTE);
    if (isIn(PAGE)) return onRemote ? 'common' : 'start';
    if (onRemote || !isIn(FIRST_VIEW)) return undefined;
    return OTHER_VIEWS.some(isIn) ? 'shared' : 'layers';
  };

  /** Whether a module, by its path within the project, is there from the start. */
  isAtStart(path: string): boolean {
    return [...(this.closures.get(PAGE) ?? [])].some((id) => id.endsWith(path));
  }

  /** A module with all that it imports from the start. */
  private closure(entry: string, modules: Modules): Set<string> {
    const known = this.closures.get(entry);
    if (known) return known;
    const found = new Set<string>();
    const wanted = [this.root.replace(/\/$/, '') + entry];
    for (let id = wanted.pop(); id !== undefined; id = wanted.pop()) {
      if (found.has(id)) continue;
      found.add(id);
      wanted.push(...(modules.getModuleInfo(id)?.importedIds ?? []));
    }
    this.closures.set(entry, found);
    return found;
  }
}
