import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launch } from '../browser';
import { killTabs } from '../kills';
import { takeovers } from '../soakSpare';
import { ACTS, nameOfWalk, serveSmall, walkThrough } from '../walks';
import { Tally, type Outcome, type Part } from './part';

/** A port of its own for each process. */
const port = (): number => 20_000 + (process.pid % 20_000);
const LOST_MS = 1000;
const SILENT_MS = 700;
const OFF_DB = 1;

/** Acts of a walk from inside the page. */
const INSIDE = 600;

/** Walks by number, of so many acts from inside the page each; 0: by hands from outside. */
const tryWalks =
  (inside: number) =>
  async (first: number, count: number): Promise<Outcome> => {
    const tally = new Tally();
    const { address, end } = await serveSmall(port());
    const browser = await launch();
    try {
      for (let seed = first; seed < first + count; seed++) {
        const { wrong, changed, undone, kinds } = await walkThrough(browser, address, seed, inside);
        tally.count('acts', inside || ACTS);
        tally.count('walks that changed the rig', changed ? 1 : 0);
        tally.count('walks undone to the end and done again', undone ? 1 : 0);
        for (const [kind, count] of Object.entries(kinds)) tally.count(kind, count);
        if (wrong.length > 0) tally.fail(`${nameOfWalk(seed)}: ${wrong.join(' · ').slice(0, 600)}`);
      }
    } finally {
      await browser.close();
      end();
    }
    return tally.outcome;
  };

const PROMISE =
  'in every view and at every width: nothing is thrown or told to the console, what is kept is a sound rig, undone all the way it is what it was at first, done again it is what it was left as, and it opens again';
const AGAINST = 'the schema of the rig; the rig as it was before the walk, and as it was left';

export const HANDS: Part = {
  name: 'hands',
  promise: `Whatever is pressed, typed, chosen and dragged by chance, by mouse, pen, finger and keys, ${PROMISE}`,
  against: `${AGAINST}; the acts are told to the elements from inside the page`,
  items: `walks of ${INSIDE} acts`,
  count: Math.ceil(200_000 / INSIDE),
  chunk: 2,
  try: tryWalks(INSIDE),
};

export const POINTERS: Part = {
  name: 'pointers',
  promise: `The same by a mouse and keys of the browser's own, ${PROMISE}`,
  against: AGAINST,
  items: `walks of ${ACTS} acts`,
  count: 100,
  chunk: 2,
  try: tryWalks(0),
};

async function tryKills(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  const { address, end } = await serveSmall(port());
  const profile = mkdtempSync(join(tmpdir(), 'wavicle-kills-'));
  try {
    const lost = await killTabs(address, profile, count, first + 1);
    tally.count('browsers ended', lost.length);
    for (const [n, ms] of lost.entries()) {
      tally.measure('ms of edits lost at the most', ms);
      if (ms > LOST_MS) tally.fail(`kill ${n} of those from ${first} on: ${ms} ms of edits were lost`);
    }
  } finally {
    end();
    rmSync(profile, { recursive: true, force: true });
  }
  return tally.outcome;
}

export const DEATH: Part = {
  name: 'death',
  promise: 'A browser ended at any moment of editing has lost nothing older than a second, and opens its rig again',
  against: 'the time at which each edit was made',
  items: 'browsers ended',
  count: 1000,
  chunk: 20,
  try: tryKills,
};

async function tryTakeovers(first: number, count: number): Promise<Outcome> {
  const tally = new Tally();
  const all = await takeovers(count, first + 1, () => undefined);
  tally.count('first machines ended', all.length);
  for (const [n, { afterMs, offDb, swayDb, hangs }] of all.entries()) {
    const seed = `takeover ${n} of those from ${first} on`;
    tally.measure('ms until the second was heard', Math.round(afterMs));
    tally.measure('dB between the two', Math.round(10 * Math.abs(offDb)) / 10);
    tally.measure('dB by which the sound sways by itself', Math.round(10 * swayDb) / 10);
    if (!(afterMs <= SILENT_MS)) tally.fail(`${seed}: heard after ${afterMs} ms`);
    if (!(Math.abs(offDb) <= OFF_DB))
      tally.fail(`${seed}: ${offDb.toFixed(1)} dB off, of a sound that sways by ${swayDb.toFixed(1)} dB`);
    if (hangs) tally.fail(`${seed}: a note hangs`);
  }
  return tally.outcome;
}

export const TAKEOVERS: Part = {
  name: 'takeovers',
  promise: `When the first machine is ended under held notes, the second is heard within ${SILENT_MS} ms, as loud, and nothing hangs`,
  against: 'what both audio threads measured, before and after, by the clock of the machine',
  items: 'first machines ended',
  count: 20,
  chunk: 5,
  alone: true,
  try: tryTakeovers,
};
