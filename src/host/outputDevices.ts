import { askForInput, closeInput } from './audioInputs';

/** A device that sound can go to. */
export interface OutputDevice {
  id: string;
  name: string;
}

/** Whether this browser lets the device be chosen. */
export const canChooseDevice = (): boolean =>
  typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype;

/** The output devices there are, as far as the browser tells their names. */
export async function outputDevices(): Promise<OutputDevice[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? [];
  return devices
    .filter(
      ({ kind, deviceId, label }) =>
        kind === 'audiooutput' && deviceId !== '' && deviceId !== 'default' && label !== '',
    )
    .map(({ deviceId, label }) => ({ id: deviceId, name: label }));
}

/** Asks for what makes a browser tell names of devices: once an input was permitted, outputs are told as well. */
export const askForNames = async (): Promise<void> => closeInput(await askForInput());

/** The device that is wanted: by its id, or by its name where ids have changed; undefined: it is not there. */
export const deviceWanted = (devices: readonly OutputDevice[], wanted: OutputDevice): OutputDevice | undefined =>
  devices.find(({ id }) => id === wanted.id) ?? devices.find(({ name }) => name === wanted.name);
