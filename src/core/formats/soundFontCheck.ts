import { FileError } from './fileError';

/** Records of the tables in the `pdta` list and their sizes in bytes (SoundFont 2.04, section 7). */
const RECORD = { phdr: 38, pbag: 4, pmod: 10, pgen: 4, inst: 22, ibag: 4, imod: 10, igen: 4, shdr: 46 } as const;
type Table = keyof typeof RECORD;

/**
 * Holds the tables of a SoundFont against one another before a parser follows their indices: chunks inside their lists,
 * whole records, indices that rise and stay inside the
 * next table, samples inside the sample data. Gives the places of samples that no file holds, for they lie in the memory
 * of a device. Throws a {@link FileError} that says which table is wrong.
 */
export function checkSoundFont(bytes: Uint8Array): ReadonlySet<number> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || tag(0) !== 'RIFF' || tag(8) !== 'sfbk')
    throw new FileError('', 'this is no SoundFont 2 file');
  const tables = new Map<string, { at: number; size: number }>();
  let sampleFrames = 0;
  for (const list of chunks(view, 12, bytes.length, tag, 'the file')) {
    if (list.name !== 'LIST') continue;
    const kind = tag(list.at);
    for (const chunk of chunks(view, list.at + 4, list.at + list.size, tag, kind)) {
      if (kind === 'pdta') tables.set(chunk.name, chunk);
      if (kind === 'sdta' && chunk.name === 'smpl') sampleFrames = chunk.size >> 1;
    }
  }
  const count = (table: Table): number => {
    const found = tables.get(table);
    if (!found) throw new FileError(table, 'this table of the SoundFont is missing');
    if (found.size % RECORD[table] !== 0 || found.size === 0)
      throw new FileError(table, 'this table of the SoundFont is cut off');
    return found.size / RECORD[table];
  };
  const field = (table: Table, record: number, offset: number): number =>
    view.getUint16(tables.get(table)!.at + record * RECORD[table] + offset, true);
  const rises = (table: Table, offset: number, into: Table) => {
    const most = count(into);
    let last = 0;
    for (let i = 0; i < count(table); i++) {
      const index = field(table, i, offset);
      if (index < last || index > most)
        throw new FileError(table, `record ${i} points to ${index} of ${most} records of ${into}, after ${last}`);
      last = index;
    }
  };
  rises('phdr', 24, 'pbag');
  rises('pbag', 0, 'pgen');
  rises('pbag', 2, 'pmod');
  rises('inst', 20, 'ibag');
  rises('ibag', 0, 'igen');
  rises('ibag', 2, 'imod');
  const inDevice = new Set<number>();
  // The last record only marks the end.
  for (let i = 0; i < count('shdr') - 1; i++) {
    const at = tables.get('shdr')!.at + i * RECORD.shdr;
    const [start, end] = [view.getUint32(at + 20, true), view.getUint32(at + 24, true)];
    // SoundFont 2.04, 7.10: the highest bit of the type.
    if ((view.getUint16(at + 44, true) & 0x8000) !== 0) inDevice.add(i);
    else if (start > end || end > sampleFrames)
      throw new FileError('shdr', `sample ${i + 1} lies from frame ${start} to ${end}, but there are ${sampleFrames}`);
  }
  return inDevice;
}

/** The chunks between two places. Throws where one leaves what it stands in. */
function chunks(
  view: DataView,
  from: number,
  to: number,
  tag: (at: number) => string,
  where: string,
): { name: string; at: number; size: number }[] {
  const found: { name: string; at: number; size: number }[] = [];
  for (let at = from; at + 8 <= to;) {
    const size = view.getUint32(at + 4, true);
    if (at + 8 + size > to)
      throw new FileError(tag(at), `this part of ${where} is cut off: ${to - at - 8} of ${size} bytes are there`);
    found.push({ name: tag(at), at: at + 8, size });
    at += 8 + size + (size % 2);
  }
  return found;
}
