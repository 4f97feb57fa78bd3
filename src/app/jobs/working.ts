import { notice, store } from '../document/store';
import { toldSlice } from '../document/toldSlice';

/** Says what goes on while something long runs, and what went wrong. Gives whether it went well. */
export async function working(what: string, task: () => Promise<void>): Promise<boolean> {
  store.dispatch(toldSlice.actions.busySet(what));
  try {
    await task();
    return true;
  } catch (error) {
    store.dispatch(notice('problem', `${what} failed: ${error instanceof Error ? error.message : String(error)}`));
    return false;
  } finally {
    store.dispatch(toldSlice.actions.busySet(null));
  }
}

/** Bytes as a file among the downloads. */
export function download(bytes: Uint8Array, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes.slice()], { type }));
  const link = Object.assign(document.createElement('a'), { href: url, download: name });
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
