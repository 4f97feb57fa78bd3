/**
 * A path with plain slashes and no dots in it but for `../` at its beginning; undefined where it does not start from
 * where it stands.
 */
export function plainPath(path: string): string | undefined {
  const slashed = path.replaceAll('\\', '/');
  if (/^([a-z]:|\/)/i.test(slashed)) return undefined;
  if (!/(?:^|\/)\.{0,2}(?:\/|$)/.test(slashed)) return slashed;
  const out: string[] = [];
  for (const step of slashed.split('/')) {
    if (step === '' || step === '.') continue;
    if (step === '..' && out.length > 0 && out[out.length - 1] !== '..') out.pop();
    else out.push(step);
  }
  return out.join('/');
}

/** The same inside a folder; undefined where it leads out of that. */
export function cleanPath(path: string): string | undefined {
  const plain = plainPath(path);
  return plain === undefined || plain === '..' || plain.startsWith('../') ? undefined : plain;
}
