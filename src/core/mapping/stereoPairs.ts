/**
 * One recording: a file, or the two files of its left and right channel. `path` is the name of both without what tells
 * them apart.
 */
export interface Recording {
  path: string;
  left: string;
  right: string | null;
}

const SIDE = /^(.*?)([\s_.-]*)(left|right|l|r)(\.[a-z0-9]{2,5})$/i;

/**
 * Files that come as pairs of channels (`name_L.wav` and `name_R.wav`, left and right) are one recording each. A letter
 * counts only after a separator, and only where the
 * other side is there and no third letter is (`a_K`, `a_L`, `a_R` are none). The order is that of the files, pairs
 * where their first stood.
 */
export function stereoPairs(paths: readonly string[]): Recording[] {
  const sides = new Map<string, { left?: string; right?: string; path: string }>();
  const keyOf = new Map<string, string>();
  const letters = new Map<string, number>();
  for (const path of paths) {
    const letter = /^(.*[\s_.-])[a-z](\.[a-z0-9]{2,5})$/i.exec(path);
    if (letter)
      letters.set(
        `${letter[1]}${letter[2]}`.toLowerCase(),
        (letters.get(`${letter[1]}${letter[2]}`.toLowerCase()) ?? 0) + 1,
      );
    const found = SIDE.exec(path);
    if (!found || found[1] === '' || found[1].endsWith('/') || (found[2] === '' && found[3].length === 1)) continue;
    const key = `${found[1]}${found[2]}/${found[3].length > 1}${found[4]}`.toLowerCase();
    const pair = sides.get(key) ?? { path: `${found[1]}${found[4]}` };
    if (/^l/i.test(found[3])) pair.left ??= path;
    else pair.right ??= path;
    sides.set(key, pair);
    keyOf.set(path, key);
  }
  const isPair = (key: string | undefined): key is string => {
    const pair = key === undefined ? undefined : sides.get(key);
    if (!pair?.left || !pair.right) return false;
    const letter = /^(.*[\s_.-])[a-z](\.[a-z0-9]{2,5})$/i.exec(pair.left);
    return !letter || letters.get(`${letter[1]}${letter[2]}`.toLowerCase()) === 2;
  };
  const done = new Set<string>();
  return paths.flatMap((path): Recording[] => {
    const key = keyOf.get(path);
    if (!isPair(key)) return [{ path, left: path, right: null }];
    const pair = sides.get(key)!;
    if (done.has(key) || (path !== pair.left && path !== pair.right))
      return done.has(key) && (path === pair.left || path === pair.right) ? [] : [{ path, left: path, right: null }];
    done.add(key);
    return [{ path: pair.path, left: pair.left!, right: pair.right! }];
  });
}
