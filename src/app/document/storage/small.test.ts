const kept = new Map<string, string>();
let broken = false;
const storage = {
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, text: string) => {
    if (broken) throw new Error('full');
    kept.set(key, text);
  },
  removeItem: (key: string) => {
    kept.delete(key);
  },
};
Object.defineProperty(globalThis, 'localStorage', { configurable: true, get: () => storage });
Object.defineProperty(globalThis, 'sessionStorage', {
  configurable: true,
  get: () => {
    throw new Error('forbidden');
  },
});
// eslint-disable-next-line @typescript-eslint/no-require-imports
const { small, smallOfTab } = require('./small') as typeof import('./small');

test('what fits is kept; what does not holds as long as the page, in place of what was kept before', () => {
  expect(small.set('a', '1')).toBe(true);
  expect(kept.get('a')).toBe('1');
  broken = true;
  expect(small.set('a', '2')).toBe(false);
  expect([small.get('a'), kept.get('a')]).toEqual(['2', '1']);
  broken = false;
  expect(small.set('a', '3')).toBe(true);
  expect([small.get('a'), kept.get('a')]).toEqual(['3', '3']);
  small.remove('a');
  expect(small.get('a')).toBeNull();
});
test('where nothing may be kept at all, words hold as long as the page', () => {
  expect(smallOfTab.get('b')).toBeNull();
  expect(smallOfTab.set('b', 'x')).toBe(false);
  expect(smallOfTab.get('b')).toBe('x');
  smallOfTab.remove('b');
  expect(smallOfTab.get('b')).toBeNull();
});
