import { BROWSER_AUDIO_ENDINGS } from '../../core/formats/audioFile';
import type { BroughtFile } from '../../core/formats/bringIn';
import { notice, store } from '../document/store';
import { droppedFiles, type DroppedFile } from '../document/droppedFiles';
import { lookAt, tray } from './tray';

/** Whether files are for the tray: audio, SFZ, SoundFonts or folders of them, and not a rig or a take. */
export const isForTray = (files: readonly DroppedFile[]): boolean =>
  files.some(({ path }) => BROWSER_AUDIO_ENDINGS.test(path) || /\.(sfz|sf2|zip)$/i.test(path));

/** Brings files into the tray; `demo` takes the folder that ships with the application. */
export async function bringInDropped(files: readonly DroppedFile[] | 'demo'): Promise<void> {
  try {
    const dropped = files === 'demo' ? await demoFolder() : files;
    tray.options = { ...tray.options, middleC: store.getState().settings.middleC };
    await tray.add(dropped);
  } catch (error) {
    store.dispatch(notice('problem', `${(error as Error).message}. Nothing was changed.`));
  }
}

async function demoFolder(): Promise<DroppedFile[]> {
  const answer = await fetch('/demo/folder.json');
  if (!answer.ok) throw new Error('The demo folder is not on the server; start it with “npm start”');
  const { name, files } = (await answer.json()) as { name: string; files: string[] };
  return Promise.all(
    files.map(async (path) => {
      const response = await fetch(`/demo/${encodeURIComponent(name)}/${encodeURIComponent(path)}`);
      return { path: `${name}/${path}`, file: new File([await response.blob()], path) };
    }),
  );
}

/** Reads dropped files for taking the place of others. */
export async function bringInForExchange(event: {
  nativeEvent: Event;
}): Promise<{ files: BroughtFile[]; problems: string[] }> {
  const problems: string[] = [];
  const files = await Promise.all(
    (await droppedFiles(event)).map(async ({ path, file }) => {
      try {
        return [await lookAt(path, file)];
      } catch (error) {
        problems.push(`${path}: ${(error as Error).message}`);
        return [];
      }
    }),
  );
  return { files: files.flat(), problems };
}
