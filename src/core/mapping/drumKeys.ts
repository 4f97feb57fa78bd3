/**
 * Words that drum names are made of, and the key each set of them stands for: General MIDI percussion map (keys 35 to
 * 81). The first that fits counts, so the finer ones come first.
 */
const DRUMS: readonly [key: number, pattern: RegExp][] = [
  [37, /\b(side ?stick|cross ?stick|rim ?(shot|click)?|rs)\b/],
  [40, /\b(electric snare|snare (2|b)|sd ?2)\b/],
  [38, /\b(snares?|sn|sd)\b/],
  [35, /\b(kick (2|b)|bd ?2|acoustic bass drum)\b/],
  [36, /\b(kicks?|bass ?drums?|bd|kd)\b/],
  [39, /\b(hand ?)?claps?\b/],
  [44, /\b(pedal|foot) ?(hi ?)?hats?\b|\bhh ?(pedal|foot)\b|\bhats? (pedal|foot)\b|\bphh\b/],
  [46, /\bopen(ed)? ?(hi ?)?hats?\b|\b(hi ?)?hats? ?open\b|\bhh ?(open|o)\b|\bohh?\b/],
  [42, /\bclosed ?(hi ?)?hats?\b|\b(hi ?)?hats? ?(closed|tight)\b|\bhh ?(closed|c)\b|\bchh?\b|\b(hi ?)?hats?\b|\bhh\b/],
  [43, /\bhigh floor toms?\b/],
  [41, /\b(low )?floor toms?\b|\btoms? floor\b/],
  [48, /\b(hi(gh)? mid|upper mid) toms?\b/],
  [47, /\b(low )?mid toms?\b|\btoms? mid\b|\bmiddle toms?\b/],
  [50, /\bhi(gh)? toms?\b|\btoms? hi(gh)?\b/],
  [45, /\blow toms?\b|\btoms? low\b|\btoms?\b/],
  [57, /\bcrash (2|b)\b/],
  [49, /\bcrash(es)?\b/],
  [53, /\b(ride )?bell\b|\bride bell\b/],
  [59, /\bride (2|b)\b/],
  [51, /\brides?\b/],
  [52, /\bchin(a|ese)\b/],
  [55, /\bsplash(es)?\b/],
  [54, /\btambourines?\b|\btamb\b/],
  [56, /\bcow ?bells?\b/],
  [58, /\bvibra ?slaps?\b/],
  [60, /\bhi(gh)? bongos?\b|\bbongos? hi(gh)?\b/],
  [61, /\blow bongos?\b|\bbongos? low\b|\bbongos?\b/],
  [62, /\bmuted? hi(gh)? congas?\b|\bcongas? muted?\b/],
  [63, /\b(open )?hi(gh)? congas?\b|\bcongas? hi(gh)?\b/],
  [64, /\blow congas?\b|\bcongas?\b/],
  [66, /\blow timbales?\b|\btimbales? low\b/],
  [65, /\b(hi(gh)? )?timbales?\b/],
  [68, /\blow agogos?\b|\bagogos? low\b/],
  [67, /\b(hi(gh)? )?agogos?\b/],
  [69, /\bcabasas?\b/],
  [70, /\bmaracas?\b|\bshakers?\b/],
  [72, /\blong whistles?\b/],
  [71, /\b(short )?whistles?\b/],
  [74, /\blong guiros?\b/],
  [73, /\b(short )?guiros?\b/],
  [75, /\bclaves?\b/],
  [77, /\blow wood ?blocks?\b|\bwood ?blocks? low\b/],
  [76, /\b(hi(gh)? )?wood ?blocks?\b/],
  [78, /\bmuted? cuicas?\b/],
  [79, /\b(open )?cuicas?\b/],
  [80, /\bmuted? triangles?\b/],
  [81, /\b(open )?triangles?\b/],
];

/** The key that a name asks for, with the words that said so; undefined where it names no drum. */
export function drumKeyOf(name: string): { key: number; words: string } | undefined {
  const words = name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Za-z])(\d)/g, '$1 $2')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();
  for (const [key, pattern] of DRUMS) {
    const found = pattern.exec(words);
    if (found) return { key, words: found[0] };
  }
  return undefined;
}
