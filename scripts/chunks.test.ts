import { Chunks } from './chunks';

describe('what is loaded together lies in one file', () => {
  const app = '/p/src/app/';
  const imports: Record<string, string[]> = {
    [`${app}main.tsx`]: [`${app}a.ts`, '/p/core/x.ts'],
    [`${app}a.ts`]: [`${app}main.tsx`, '/p/core/y.ts'],
    [`${app}remote/main.tsx`]: ['/p/core/y.ts', '/p/core/far.ts'],
    [`${app}views/layers/LayersView.tsx`]: [`${app}a.ts`, '/p/core/map.ts', '/p/core/both.ts'],
    [`${app}views/mix/MixView.tsx`]: ['/p/core/both.ts', '/p/core/mix.ts'],
  };
  const modules = { getModuleInfo: (id: string) => (imports[id] ? { importedIds: imports[id] } : null) };
  const { nameOf } = new Chunks('/p');

  test.each([
    ['the page', `${app}main.tsx`, 'start'],
    ['what it imports, however deep, in a circle too', `${app}a.ts`, 'start'],
    ['what a remote has as well', '/p/core/y.ts', 'common'],
    ['what a remote has alone', '/p/core/far.ts', undefined],
    ['what the first view has alone', '/p/core/map.ts', 'layers'],
    ['what it shares with another', '/p/core/both.ts', 'shared'],
    ['what another has alone', '/p/core/mix.ts', undefined],
  ])('%s', (_, id, name) => expect(nameOf(id, modules)).toBe(name));
});
