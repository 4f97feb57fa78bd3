/** What each command is called with, and what it does: the one place where help comes from. */
export interface Usage {
  does: string;
  call: string;
  options: readonly (readonly [option: string, meaning: string])[];
}

const SET = [
  '--set SOURCE=VALUE',
  'puts a source there before anything sounds, on every channel: cc.1=64, macro.2=0.5, xy.1.x=0.3, bend=-1, channelPressure=90; may be given again',
] as const;
const TUNING = [
  ['--a4 HZ', 'concert pitch, 415 to 466 (as the rig has it)'],
  ['--tuning FILE.scl', 'a Scala scale for all that does not stay as it is; the A stays where concert pitch is'],
  ['--mapping FILE.kbm', 'with it, a Scala mapping: which degree lies on which key, from which frequency'],
] as const;
const SEED = ['--seed N', 'seed of all chance (1)'] as const;
const PATCH = ['--patch NAME', 'the patch, by name or id'] as const;

export const USAGE = {
  demo: {
    does: 'writes the demo rig, or the store',
    call: 'demo [--store] --out RIG',
    options: [
      ['--out RIG', 'the archive to write'],
      ['--store', 'Harbour Store, thirty patches to play, instead of the show'],
    ],
  },
  show: {
    does: 'outlines a rig: patches with their layers and windows, sounds with their zones',
    call: 'show RIG',
    options: [],
  },
  resolve: {
    does: 'tells what sounds for one strike',
    call: 'resolve RIG --patch NAME --key N --velocity N [options]',
    options: [
      PATCH,
      ['--key N', 'a key from 0 to 127, or a name with middle C as C4, such as F#3'],
      ['--velocity N', '1 to 127'],
      ['--channel N', 'MIDI channel of the strike, 1 to 16 (1)'],
      ['--port NAME', 'the MIDI port it comes by'],
      SET,
      ['--repeat N', 'so many strikes after another (1)'],
      SEED,
      ...TUNING,
    ],
  },
  render: {
    does: 'plays a take through the engine into a WAV file',
    call: 'render RIG --patch NAME --take FILE.mid --out FILE.wav [options]',
    options: [
      PATCH,
      ['--take FILE.mid', 'a Standard MIDI File; what it moves itself goes on from what --set says'],
      ['--out FILE.wav', 'the file to write, 24 bits'],
      ['--rate N', 'frames in a second (48000)'],
      SEED,
      ['--tail SECONDS', 'after the end of the take (2)'],
      SET,
      ['--solo LAYER', 'only this layer is heard; may be given again'],
      ['--tempo N', 'quarters a minute instead of the patch’s own: what is tempo-locked follows, the take does not'],
      ['--dry', 'without any effect'],
      ['--without EFFECT', 'without an effect, by its id or kind, or all of a place by its name; may be given again'],
      ['--stems', 'a file for each layer beside it'],
      ['--input FILE.wav', 'what layers hear that play an input, from the beginning of the take'],
      ['--outputs', 'a file for each pair of outputs beside it; without it, all pairs are in the one file'],
      ...TUNING,
      ['--show', 'without a patch: program changes of the take go through the steps of the setlist'],
    ],
  },
  moves: {
    does: 'tells what moves what: routes with their reach, windows on controls, and what is built in',
    call: 'moves RIG --patch NAME [--source ID] [--target ID]',
    options: [
      PATCH,
      ['--source ID', 'only what this source moves: cc.1, macro.2, lfo.1 …'],
      ['--target ID', 'only what moves this: layer.ID.cutoff, main.level, macro.1, lfo.1.rate …'],
    ],
  },
  paths: {
    does: 'tells the signal path: connections in the order in which they are made, with the effects of where each comes from',
    call: 'paths RIG --patch NAME',
    options: [PATCH],
  },
  check: {
    does: 'listens to a rig and tells what is wrong with it, with the edits that would mend it',
    call: 'check RIG [--patch NAME] [--takes DIR] [--quick] [--strict]',
    options: [
      ['--patch NAME', 'only this patch, by name or id'],
      [
        '--takes DIR',
        'a folder with a MIDI file for each patch without a take of its own, named by its id; else a scale and chords',
      ],
      ['--quick', 'only what follows from the rig’s own numbers'],
      ['--strict', 'exit code 1 where something is found that is no matter of taste'],
    ],
  },
  rehearse: {
    does: 'plays every step of a setlist on its take and tells loudness, peaks, voices, load, time of the change and missing samples',
    call: 'rehearse RIG [--setlist NAME] [--takes DIR]',
    options: [
      ['--setlist NAME', 'another than that of the next show, by name or id'],
      [
        '--takes DIR',
        'a folder with a MIDI file for each patch without a take of its own, named by its id; else a scale and chords',
      ],
    ],
  },
  draw: {
    does: 'draws by chance what is open, keeps the draw in the history of the patch, and writes the rig',
    call: 'draw RIG --patch NAME --seed N --out RIG [options]',
    options: [
      PATCH,
      ['--seed N', 'the same seed gives the same draw'],
      ['--out RIG', 'the archive to write'],
      ['--only ID', 'only this: a target such as layer.ID.cutoff, a layer, a group; may be given again'],
      ['--amount A', 'how far, 0 to 1 of each parameter’s own musical range (1)'],
      ['--sounds WHICH', 'layers may play other sounds: list, all, or a tag'],
    ],
  },
  bounce: {
    does: 'renders a patch, or a part of it, into a new multisample and writes the rig with it',
    call: 'bounce RIG --patch NAME --keys LIST --velocities LIST --seconds S --out RIG [options]',
    options: [
      PATCH,
      ['--keys LIST', 'keys that are struck: 48,60,72 or 36-84/3 (from, to, every)'],
      ['--velocities LIST', 'strikes: 40,80,127'],
      ['--seconds S', 'how long each is held'],
      ['--out RIG', 'the archive to write'],
      ['--layer NAME', 'only this layer; likewise --group and --pool (what a shared effect gives back)'],
      ['--alternates N', 'draws of each strike that take turns (1)'],
      ['--tail S', 'longest tail, in seconds (20)'],
      ['--mono', 'both sides summed'],
      ['--loop', 'a loop is looked for in what is held'],
      ['--dry', 'without effects'],
      ['--rebuild', 'the new sounds stand in a copy of the patch, each in the place of its layer'],
      SET,
    ],
  },
  import: {
    does: 'makes a rig of folders of audio, SFZ files, SoundFonts, zips and WAV, AIFF or FLAC files',
    call: 'import PATH… --out RIG [options]',
    options: [
      ['--out RIG', 'the archive to write'],
      ['--layout HOW', 'names, run, one-key, effects, pitch or kit (names)'],
      ['--folders WHAT', 'what folders are: dynamics, alternates, pads, sounds or nothing (guessed)'],
      ['--from KEY', 'first key of a run, of effects and of pads that no drum is named after'],
      ['--middle-c N', 'the octave that names give middle C: 3, 4 or 5 (4)'],
      ['--stretch', 'samples reach the keys between their roots'],
    ],
  },
  export: {
    does: 'writes a sound, or a patch as one sound, with its samples in an open format',
    call: 'export RIG --sound NAME|--patch NAME --format sfz|sf2|wav|flac --out DIR',
    options: [
      ['--sound NAME', 'the sound, by name or id'],
      [
        '--patch NAME',
        'a patch instead: its layers with their windows, levels, envelopes and filters as zones of one sound',
      ],
      [
        '--format F',
        'sfz (with its WAV files), sf2 (a SoundFont of one preset), wav (with roots, loops and ranges inside) or flac',
      ],
      ['--out DIR', 'the folder to write into'],
    ],
  },
} as const satisfies Record<string, Usage>;
export type CommandName = keyof typeof USAGE;

/** Help for one command, or for all of them. */
export function help(name?: CommandName): string {
  const row = (left: string, right: string) => `  ${left.padEnd(22)}${right}`;
  if (name) {
    const { does, call, options } = USAGE[name] as Usage;
    return [
      `wavicle ${call}`,
      '',
      `${does.charAt(0).toUpperCase()}${does.slice(1)}.`,
      ...(options.length > 0 ? ['', ...options.map(([option, meaning]) => row(option, meaning))] : []),
    ].join('\n');
  }
  return [
    'wavicle COMMAND …',
    '',
    'Works on rigs without a browser. Prints JSON; a failure is one line, with exit code 1 for bad input and 2 for bad usage.',
    '',
    ...(Object.entries(USAGE) as [string, Usage][]).map(([command, { does }]) => row(command, does)),
    '',
    'wavicle COMMAND --help tells more.',
  ].join('\n');
}
