import { expose, transfer } from 'comlink';
import { renderStems } from '../core/bounce/stems';
import { compile, contextOf } from '../core/engine/program/compile';
import { Engine } from '../core/engine/engine';
import { playTake } from '../core/engine/offline/playTake';
import type { Prepared } from '../core/dsp/prepared';
import { takeFiles, type TakeFormat } from '../core/formats/takeFiles';
import type { Take } from '../core/music/take';
import type { Patch, Rig } from '../core/rig/schema';

export interface TakeJob {
  rig: Rig;
  patch: Patch;
  name: string;
  take: Pick<Take, 'seconds' | 'events'>;
  samples: { key: string; sample: Prepared }[];
  format: TakeFormat;
  stems: boolean;
}
const RATE = 48000;
const TAIL = 3;

type Files = { path: string; bytes: Uint8Array }[];

/** Renders a take into files; `told` hears how far it is, 0…1. */
async function filesOf(
  { rig, patch, name, take, samples, format, stems }: TakeJob,
  told: (share: number) => void,
): Promise<Files> {
  const there = new Map(samples.map(({ key, sample }) => [key, sample]));
  if (stems) {
    const rendered = renderStems(rig, patch, take, ({ key }) => there.get(key), {
      rate: RATE,
      tail: TAIL,
      told: (share) => {
        told(share);
        return true;
      },
    });
    return takeFiles(name, rendered, format, true, RATE);
  }
  const engine = new Engine({ rate: RATE });
  for (const { key, sample } of samples) engine.addSample(key, sample);
  engine.setProgram(compile(patch, contextOf(rig, RATE)));
  const whole = playTake(engine, { ...take, events: take.events.filter(({ to }) => !to) }, TAIL);
  return takeFiles(name, { whole, stems: [] }, format, false, RATE);
}

const api = {
  async write(job: TakeJob, told: (share: number) => void): Promise<Files> {
    const files = await filesOf(job, told);
    return transfer(
      files,
      files.map(({ bytes }) => bytes.buffer as ArrayBuffer),
    );
  },
};
export type TakeApi = typeof api;
expose(api);
