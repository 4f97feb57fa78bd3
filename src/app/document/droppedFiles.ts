import { fromEvent } from 'file-selector';

/** A file dropped or chosen, with its path inside what was dropped. */
export interface DroppedFile {
  path: string;
  file: File;
}

/** The path of a file inside what was dropped or chosen. */
const pathOf = (file: File): string => {
  const given = file as File & { path?: string; relativePath?: string };
  return (file.webkitRelativePath || given.relativePath || given.path || file.name).replace(/^(\.?\/)+/, '');
};

/** Files of a drop or of a file input, folders opened. */
export async function droppedFiles(event: Event | { nativeEvent: Event }): Promise<DroppedFile[]> {
  const native = 'nativeEvent' in event ? event.nativeEvent : event;
  const files = await fromEvent(native);
  return files.flatMap((file) => (file instanceof File ? [{ file, path: pathOf(file) }] : []));
}
