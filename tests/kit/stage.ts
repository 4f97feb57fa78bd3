import type { Page } from '@playwright/test';
import { expect } from '../base';
import { forget } from '../steps';

/** The Stage with the demo's show at its first step, sound running. */
export async function openStage(page: Page): Promise<void> {
  await forget(page);
  await page.goto('/stage');
  await expect(page.getByTestId('stage-title')).toHaveText('Low Water', { timeout: 30_000 });
  await page.mouse.click(300, 20);
  await expect(page.getByTestId('stage-ready')).toHaveText('ready', { timeout: 60_000 });
}
export const title = (page: Page) => page.getByTestId('stage-title');
/** What a hand does that means it. */
export async function unlock(page: Page): Promise<void> {
  const lock = page.getByRole('button', { name: /hold for a second/ });
  await lock.hover();
  await page.mouse.down();
  await expect(page.getByRole('button', { name: /^unlocked/ })).toBeVisible();
  await page.mouse.up();
}
/** A message as a controller sends it, by the stand-in's door. */
export const midi = (page: Page, ...bytes: number[]) =>
  page.evaluate((list) => (window as unknown as { midiSays: (bytes: number[]) => void }).midiSays(list), bytes);
/** A controller that the page finds, and that can be pulled out. */
export async function withController(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const input = {
      id: '1',
      name: 'Keys 61',
      state: 'connected',
      onmidimessage: null as null | ((message: { data: number[] }) => void),
    };
    const access = { inputs: new Map([['1', input]]), outputs: new Map(), onstatechange: null as null | (() => void) };
    Object.defineProperty(navigator, 'requestMIDIAccess', { value: () => Promise.resolve(access) });
    Object.assign(window, {
      midiSays: (data: number[]) => input.onmidimessage?.({ data }),
      pullOut: () => {
        access.inputs.delete('1');
        access.onstatechange?.();
      },
      plugIn: () => {
        access.inputs.set('1', input);
        access.onstatechange?.();
      },
    });
  });
}
