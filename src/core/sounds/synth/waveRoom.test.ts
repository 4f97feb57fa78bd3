import { Kernel } from '../../dsp/kernel/kernel';
import { SYNTH_PAGES } from '../../dsp/kernel/synthLayout';
import { SynthMemory } from '../../dsp/kernel/synthMemory';
import { SHAPES, TABLE_IDS } from './tableIds';
import { makeWaves } from './tables';
import { bytesOfRow, rowsWithoutRoom } from './waveRoom';

test('the room that is told is the room that oscillators have: as many rows go in as are said to', () => {
  const memory = new SynthMemory(new Kernel(SYNTH_PAGES));
  expect(memory.hold(SHAPES, makeWaves({ table: SHAPES, length: 0 }, [], 1))).toBe(true);
  const rows = TABLE_IDS.map((table) => ({ table, length: 0 }));
  const without = rowsWithoutRoom(rows, () => 0);
  expect(without.length).toBeGreaterThan(0);
  const one = makeWaves(rows[0], [], 1);
  const held = rows.filter(({ table }) => memory.hold(table, one));
  expect(rows.length - held.length).toBe(without.length);
  expect(bytesOfRow(rows[0], 0)).toBe(one.data.length * 4);
});

test('a row that several have counts once; recordings by the waves in them', () => {
  const same = Array.from({ length: 40 }, () => ({ table: TABLE_IDS[0], length: 0 }));
  expect(rowsWithoutRoom(same, () => 0)).toEqual([]);
  const data = Float32Array.from({ length: 2048 * 5 }, (_, i) => Math.sin(i / 50));
  expect(bytesOfRow({ table: 'recording', length: 0 }, data.length)).toBe(
    makeWaves({ table: 'recording', length: 0 }, data, 1).data.length * 4,
  );
  expect(bytesOfRow({ table: 'recording', length: 600 }, data.length)).toBe(
    makeWaves({ table: 'recording', length: 600 }, data, 1).data.length * 4,
  );
});
