import { performance } from 'node:perf_hooks';
import { setSection } from '../src/core/dsp/filter';
import { Kernel } from '../src/core/dsp/kernel/kernel';
import { COEFFICIENTS, LONGEST_SPAN, MADE } from '../src/core/dsp/kernel/layout';

/** The value in the middle. */
export const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

const missed: string[] = [];
const told: { name: string; value: string; bar: string; met: boolean }[] = [];

/** One figure of the bench beside its bar. */
export function row(name: string, value: string, bar: string, met: boolean): void {
  const line = `${name.padEnd(72)} ${value.padStart(14)}   bar: ${bar}`;
  console.log(`${met ? 'met   ' : 'MISSED'}  ${line}`);
  told.push({ name, value, bar, met });
  if (!met) missed.push(line);
}

/** What was missed, in one list. Gives whether nothing was. */
export function finish(): boolean {
  console.log(`\n${told.length - missed.length} of ${told.length} bars are met.`);
  for (const line of missed) console.log(`MISSED  ${line}`);
  return missed.length === 0;
}

/**
 * Milliseconds of this machine, at this moment, for a second of sound through one section of second order in the kernel:
 * what shares of a core are compared with, as machines differ by a factor of two from day to day.
 */
export function loopMs(): number {
  const kernel = (loop ??= new Kernel());
  const block = kernel.voiceAt(0);
  setSection(kernel.numbers, (block + COEFFICIENTS) >> 3, 'low', { cutoffHz: 1500, q: 0.7 }, 48000);
  const times = Array.from({ length: 9 }, () => {
    for (let i = 0; i < LONGEST_SPAN; i++) kernel.made[i] = Math.sin(i);
    const began = performance.now();
    for (let at = 0; at < 48000; at += LONGEST_SPAN) kernel.loops.filter(block, 0, MADE, LONGEST_SPAN, 1);
    return performance.now() - began;
  });
  return median(times);
}
let loop: Kernel | null = null;

/** A share of one core in per cent beside its bar, and how many times the loop of {@link loopMs} it is. */
export function core(name: string, percent: number, bar: number): void {
  const loops = (percent * 10) / loopMs();
  row(
    `${name}, of one core`,
    `${percent.toFixed(percent < 10 ? 2 : 1)} % ${loops.toFixed(0).padStart(4)} ×`,
    `${bar} %`,
    percent <= bar,
  );
}
