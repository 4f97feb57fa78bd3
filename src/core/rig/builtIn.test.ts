import { markAt, newLayer, newPatch } from './defaults';
import { BUILT_IN, builtInMoves } from './moves';
import { setBuiltIn } from './edits/moves';

const patch = { ...newPatch('p', 'P'), layers: ['a', 'b'].map((id, n) => newLayer(id, id, 's', markAt(n))) };

test('what moves layers without a route is told once for each switch, with every control and every layer', () => {
  const rows = builtInMoves(patch);
  expect(rows.flatMap(({ sources }) => sources).sort()).toEqual(BUILT_IN.map(({ source }) => source).sort());
  for (const { hear, not } of rows) expect(hear.length + not.length).toBe(2);
  expect(builtInMoves({ layers: [] }).every(({ hear, not }) => hear.length + not.length === 0)).toBe(true);
});
test('it is switched off and on again for all layers, and nothing else changes', () => {
  for (const { takesOff } of builtInMoves(patch)) {
    const off = setBuiltIn(patch, takesOff, false);
    expect(builtInMoves(off).find((row) => row.takesOff === takesOff)).toMatchObject({
      hear: [],
      not: [{ id: 'a' }, { id: 'b' }],
    });
    expect(setBuiltIn(setBuiltIn(off, takesOff, true), takesOff, true)).toEqual(setBuiltIn(patch, takesOff, true));
    expect(builtInMoves(off).filter((row) => row.takesOff !== takesOff)).toEqual(
      builtInMoves(patch)
        .filter((row) => row.takesOff !== takesOff)
        .map((row) => ({
          ...row,
          hear: off.layers.filter((layer) => layer.receive[row.takesOff]),
          not: off.layers.filter((layer) => !layer.receive[row.takesOff]),
        })),
    );
  }
});
