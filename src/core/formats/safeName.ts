/** Bytes of a name at the most: systems take 255, of which an ending and a number may need some. */
const LONGEST_NAME = 180;

/** A file name that every system takes. */
export function safeName(name: string): string {
  let out = '';
  let bytes = 0;
  for (const sign of name.normalize('NFC').replace(/[\\/:*?"<>|=$#\p{Cc}]/gu, '_')) {
    bytes += utf8Length(sign);
    if (bytes > LONGEST_NAME) break;
    out += sign;
  }
  return out.replace(/^[. ]+|[. ]+$/g, '') || 'unnamed';
}

/** Bytes of a sign in UTF-8. */
const utf8Length = (sign: string): number => {
  const code = sign.codePointAt(0)!;
  return code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
};
