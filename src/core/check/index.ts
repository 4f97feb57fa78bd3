import type { Patch, Rig } from '../rig/schema';
import { keyOfFinding, type Finding, type Rule, type Subject } from './finding';
import type { Heard, TakeHeard } from './heard';
import { audioTwice } from './rules/audioTwice';
import { bendOnKeys } from './rules/bendOnKeys';
import { cancelling } from './rules/cancelling';
import { clickInHall } from './rules/clickInHall';
import { clipped } from './rules/clipped';
import { dcOffset } from './rules/dcOffset';
import { deadKeys } from './rules/deadKeys';
import { doubledKeys } from './rules/doubledKeys';
import { dullRate } from './rules/dullRate';
import { dynamicsTwice } from './rules/dynamicsTwice';
import { everythingAtOnce } from './rules/everythingAtOnce';
import { feedsBack } from './rules/feedsBack';
import { foughtOver } from './rules/foughtOver';
import { heavyChord } from './rules/heavyChord';
import { idleMacro } from './rules/idleMacro';
import { lateStart } from './rules/lateStart';
import { leftAtZero } from './rules/leftAtZero';
import { levelSteps } from './rules/levelSteps';
import { limitedTake } from './rules/limitedTake';
import { looseRoute } from './rules/looseRoute';
import { loopClick } from './rules/loopClick';
import { loopTone } from './rules/loopTone';
import { missingSamples } from './rules/missingSamples';
import { neverSounds } from './rules/neverSounds';
import { noiseFloor } from './rules/noiseFloor';
import { noRoomForWaves } from './rules/noRoomForWaves';
import { noSuchControl } from './rules/noSuchControl';
import { outputAway } from './rules/outputAway';
import { outOfReach } from './rules/outOfReach';
import { outOfTune } from './rules/outOfTune';
import { overlaps } from './rules/overlaps';
import { pedalOnBass } from './rules/pedalOnBass';
import { sameAlternates } from './rules/sameAlternates';
import { silentZones } from './rules/silentZones';
import { sameWave } from './rules/sameWave';
import { shortRelease } from './rules/shortRelease';
import { slowSwitch } from './rules/slowSwitch';
import { strangeChannel } from './rules/strangeChannel';
import { stretched } from './rules/stretched';
import { takeoverJump } from './rules/takeoverJump';
import { tenFingers } from './rules/tenFingers';
import { toneSteps } from './rules/toneSteps';
import { twoJobs } from './rules/twoJobs';
import { untoldProgram } from './rules/untoldProgram';
import { unequalCounts } from './rules/unequalCounts';
import { unequalLoudness } from './rules/unequalLoudness';
import { unevenAlternates } from './rules/unevenAlternates';
import { unevenFade } from './rules/unevenFade';
import { unknownPort } from './rules/unknownPort';
import { vanishesInMono } from './rules/vanishesInMono';
import { velocityGap } from './rules/velocityGap';
import { wrongOrder } from './rules/wrongOrder';
import { wrongRoot } from './rules/wrongRoot';

/** Every rule, in the order in which findings are told. */
export const RULES: readonly Rule[] = [
  neverSounds,
  deadKeys,
  velocityGap,
  outOfReach,
  doubledKeys,
  overlaps,
  silentZones,
  stretched,
  everythingAtOnce,
  levelSteps,
  dynamicsTwice,
  wrongOrder,
  toneSteps,
  unevenAlternates,
  sameAlternates,
  unequalCounts,
  tenFingers,
  limitedTake,
  shortRelease,
  wrongRoot,
  outOfTune,
  lateStart,
  dcOffset,
  clipped,
  loopClick,
  loopTone,
  noiseFloor,
  audioTwice,
  dullRate,
  cancelling,
  sameWave,
  unknownPort,
  looseRoute,
  idleMacro,
  twoJobs,
  pedalOnBass,
  bendOnKeys,
  leftAtZero,
  foughtOver,
  noSuchControl,
  strangeChannel,
  takeoverJump,
  unequalLoudness,
  missingSamples,
  outputAway,
  untoldProgram,
  clickInHall,
  feedsBack,
  noRoomForWaves,
  slowSwitch,
  heavyChord,
  unevenFade,
  vanishesInMono,
];

export const ruleOf = (id: string): Rule => RULES.find((rule) => rule.id === id)!;

/** The value of a rule's threshold: as the rig has it, else as the rule does. */
export const thresholdOf = (rig: Rig, rule: Rule, id: string): number => {
  const threshold = rule.thresholds?.[id];
  const set = rig.checks.thresholds[`${rule.id}.${id}`];
  return !threshold
    ? NaN
    : set === undefined
      ? threshold.value
      : Math.min(threshold.high, Math.max(threshold.low, set));
};

/** What else the rules may go by; without it only the rig's own numbers count. */
export interface Evidence {
  heard?: Heard;
  show?: ReadonlyMap<string, TakeHeard>;
  missing?: ReadonlySet<string>;
  outputs?: ReadonlySet<string>;
  fedBackAt?: number;
}

export const GRADES = ['sure', 'measured', 'taste'] as const;
const NO_SHOW: Subject['show'] = new Map();
const NONE_MISSING: Subject['missing'] = new Set();

/** What the rules have to say of one patch, the surest first; what was set aside included. */
export function checkPatch(
  rig: Rig,
  patch: Patch,
  { heard, show = NO_SHOW, missing = NONE_MISSING, outputs, fedBackAt = 0 }: Evidence = {},
): Finding[] {
  const found = toldApart(
    RULES.flatMap((rule) =>
      [
        ...rule.find({
          rig,
          patch,
          heard,
          show,
          missing,
          outputs,
          fedBackAt,
          threshold: (id) => thresholdOf(rig, rule, id),
        }),
      ].map((finding): Finding => ({ rule: rule.id, ...finding })),
    ),
  );
  return GRADES.flatMap((grade) => found.filter((finding) => finding.grade === grade));
}

/**
 * Findings of one rule in one place: those that say the same are one, the others are told apart, so that each is set
 * aside by itself and stands once in every list.
 */
function toldApart(found: readonly Finding[]): Finding[] {
  const known = new Map<string, string[]>();
  return found.flatMap((finding) => {
    const key = keyOfFinding(finding);
    const messages = known.get(key) ?? [];
    if (messages.includes(finding.message)) return [];
    known.set(key, [...messages, finding.message]);
    return [
      messages.length === 0
        ? finding
        : { ...finding, where: { ...finding.where, what: `${finding.where.what ?? ''}#${messages.length + 1}` } },
    ];
  });
}

/** The same of every patch. */
export const checkRig = (rig: Rig): Finding[] => rig.patches.flatMap((patch) => checkPatch(rig, patch));

/** Why a finding was set aside, by itself or with all of its rule in its place; undefined: it was not. */
export const reasonOf = (rig: Rig, finding: Finding): string | undefined =>
  rig.checks.aside.find(
    (each) =>
      each.finding === keyOfFinding(finding) ||
      each.finding === keyOfFinding({ ...finding, where: { ...finding.where, what: undefined } }),
  )?.reason;

/**
 * A rig with every safe first edit of some findings taken, one after another; each is looked for again after the one
 * before, for places may have moved.
 */
export function mendAll(
  rig: Rig,
  patchId: string,
  evidence: Evidence = {},
  grades: readonly Finding['grade'][] = ['sure', 'measured'],
): { rig: Rig; mended: number } {
  let mended = 0;
  const tried = new Set<string>();
  for (let round = 0; round < MOST_MENDED; round++) {
    const patch = rig.patches.find(({ id }) => id === patchId);
    const next =
      patch &&
      checkPatch(rig, patch, evidence).find(
        (finding) =>
          grades.includes(finding.grade) &&
          finding.fixes[0]?.safe &&
          reasonOf(rig, finding) === undefined &&
          !tried.has(keyOfFinding(finding)),
      );
    if (!next) break;
    tried.add(keyOfFinding(next));
    const edited = next.fixes[0].edit(rig);
    if (edited !== rig) mended++;
    rig = edited;
  }
  return { rig, mended };
}
const MOST_MENDED = 500;
