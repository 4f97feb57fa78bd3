import { markAt, newGroup } from '../rig/defaults';
import { faultOf } from '../rig/read';
import type { Rig } from '../rig/schema';
import { checkPatch, mendAll, reasonOf, RULES, thresholdOf, ruleOf } from './index';
import { keyOfFinding } from './finding';
import type { TakeHeard } from './heard';
import { levelShow } from './loudness';
import { record, tone, hzOf, over, velocities, simple, hear, found, even, plain } from '../../../tests/kit/heard';

describe('the show', () => {
  const take = (lufs: number): TakeHeard => ({ lufs, peakDb: -6, limiterDb: 0, monoDb: 0, switchMs: 1 });
  const three = {
    ...plain,
    patches: ['p', 'q', 'r'].map((id) => ({ ...plain.patches[0], id, name: id.toUpperCase() })),
  };
  const show = new Map([
    ['p', take(-17)],
    ['q', take(-21)],
    ['r', take(-21.4)],
  ]);
  test('a patch that is louder than the middle of the show is told, brought down, and the whole setlist levelled in one step', () => {
    const [finding] = found(three, 'unequal-loudness', hear(three), show);
    expect(finding).toMatchObject({
      grade: 'measured',
      message: '“P” is 4 LU louder than the middle of the show on its take.',
    });
    expect(finding.fixes[0].edit(three).patches.map(({ main }) => main.level)).toEqual([-4, 0, 0]);
    expect(levelShow(three, show, 0.1).patches.map(({ main }) => main.level)).toEqual([-4, 0, 0.4]);
    expect(found(three, 'unequal-loudness', hear(three), new Map([...show, ['p', take(-20.5)]]))).toEqual([]);
    // Of two there is no middle.
    expect(
      found(
        three,
        'unequal-loudness',
        hear(three),
        new Map([
          ['p', take(-10)],
          ['q', take(-21)],
        ]),
      ),
    ).toEqual([]);
  });
  test('what is missing, a slow change, and a heavy chord', () => {
    const heard = hear(plain);
    expect(
      checkPatch(plain, plain.patches[0], { heard, missing: new Set(['even']) }).filter(
        ({ rule }) => rule === 'missing-samples',
      ),
    ).toMatchObject([{ grade: 'sure', where: { soundId: 's', zones: [0] } }]);
    expect(found(plain, 'missing-samples')).toEqual([]);
    expect(found(plain, 'slow-switch', { ...heard, take: { ...take(-20), switchMs: 80 } })).toHaveLength(1);
    expect(found(plain, 'slow-switch', { ...heard, take: take(-20) })).toEqual([]);
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 0.9, steady: true } })).toHaveLength(
      1,
    );
    // What another measurement did not confirm is not told.
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 1.85, steady: false } })).toEqual(
      [],
    );
    expect(found(plain, 'heavy-chord', { ...heard, chord: { ...heard.chord!, load: 0.3, steady: true } })).toEqual([]);
  });
});

test('thresholds are those of the rig where it has any, findings set aside keep their reason, and all that is safe is mended at once', () => {
  const rig = simple([
    over(even, 60, 48, 60),
    over(even, 61, 59, 72),
    over(
      record('late-2', (t) => (t < 0.05 ? 0 : tone(hzOf(60))(t))),
      60,
      48,
      72,
      { velocity: velocities(1, 1) },
    ),
  ]);
  const heard = hear(rig);
  const all = checkPatch(rig, rig.patches[0], { heard });
  expect(all.map(({ rule }) => rule)).toEqual(expect.arrayContaining(['doubled-keys', 'late-start']));
  const after = mendAll(rig, 'p', { heard });
  expect(after.mended).toBeGreaterThanOrEqual(2);
  expect(faultOf(after.rig)).toBeUndefined();
  expect(
    checkPatch(after.rig, after.rig.patches[0], { heard: hear(after.rig) }).filter(
      ({ grade, fixes }) => grade !== 'taste' && fixes[0]?.safe,
    ),
  ).toEqual([]);
  // Set aside, it is left alone.
  const late = all.find(({ rule }) => rule === 'late-start')!;
  const aside: Rig = {
    ...rig,
    checks: { ...rig.checks, aside: [{ finding: keyOfFinding(late), reason: 'it is meant to lag' }] },
  };
  expect(reasonOf(aside, late)).toBe('it is meant to lag');
  expect(mendAll(aside, 'p', { heard }).mended).toBe(after.mended - 1);
  const patient: Rig = { ...rig, checks: { ...rig.checks, thresholds: { 'late-start.ms': 100 } } };
  expect(faultOf(patient)).toBeUndefined();
  expect(thresholdOf(patient, ruleOf('late-start'), 'ms')).toBe(100);
  expect(found(patient, 'late-start')).toEqual([]);
});

test('a pad group, a list of rules with help, and thresholds with their sources', () => {
  expect(newGroup('g', 'G', markAt(0)).windows).toEqual([]);
  for (const rule of RULES) {
    expect(rule.help.split(' ').length).toBeGreaterThan(15);
    for (const threshold of Object.values(rule.thresholds ?? {}))
      expect(threshold.value >= threshold.low && threshold.value <= threshold.high && threshold.source.length > 5).toBe(
        true,
      );
  }
});
