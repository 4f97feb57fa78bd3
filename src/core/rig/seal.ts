/**
 * A short number that changes with any change of a value, as far as its JSON text does: kept beside a rig that was
 * checked, it tells that the rig is still the same and need not be
 * checked again. FNV-1a, 32 bits, over the UTF-16 units of the text (G. Fowler, L. C. Noll, K.-P. Vo). Against
 * accidents, not against forgery.
 */
export function sealOf(value: unknown): number {
  const text = JSON.stringify(value) ?? '';
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}
