/**
 * What things are that say so nowhere else: by their name, in one sentence. Strips have theirs from the parameter, and
 * most buttons in their own title; what is in neither is here, which a test of every view sees to.
 */
type Sentences = readonly (readonly [name: RegExp, says: string])[];

/** Everywhere. */
export const ANYWHERE: Sentences = [
  [/^(modulation )?wheel$/, 'The modulation wheel, CC 1. What it moves stands in Control.'],
  [/^bend$/, 'Bends the pitch of all layers that hear it, and springs back.'],
  [/^expression$/, 'The expression pedal, CC 11: it moves the volume, unless it was given other work.'],
  [/^(Play|Stop) the take$/, 'Plays the take of this patch round and round while you edit; Space does the same.'],
  [/^take$/, 'Which recorded playing is heard: one of the patch’s own, or one that comes along.'],
  [/^Chance …$/, 'Rolls values within limits, and scatters each strike; every draw is kept.'],
  [/^Close$/, 'Puts this away; Escape does the same.'],
  [/^(Keyboard|keyboard)/, 'Plays; the further down on a key, the harder.'],
  [/^Layer /, 'One layer: where it sounds, how loud it is. A click chooses it, its column shows the rest.'],
];

export const IN_LAYERS: Sentences = [
  [/^Split here/, 'Cuts the keys in two where the pointer was last: one layer below, one above.'],
  [/^Crossfade by velocity/, 'Soft strikes play one layer, hard ones another, with both in between.'],
  [/^Bring in with …/, 'A layer comes in with a wheel, a pedal or a macro.'],
  [/^From left to right$/, 'What the field shows from left to right: keys, or anything else that hands move.'],
  [/^From bottom to top$/, 'What the field shows from bottom to top: velocity, or anything else that hands move.'],
  [/^plays/, 'The sound that this layer plays.'],
  [/^windows$/, 'Where the layer sounds: its ranges of keys, velocity and whatever else, with soft edges.'],
  [/^level$/, 'How loud it is, where it stands between left and right, what velocity does to it.'],
  [/^filters$/, 'What of its highs and lows is let through.'],
  [/^pitch$/, 'Tune, transposition, vibrato and glide.'],
  [/^touch$/, 'How it feels velocity and pressure.'],
  [/^start$/, 'How a note begins and ends: where in the sample, attack, decay, release.'],
  [/^notes$/, 'What becomes of a key before it sounds: scale, chord, one note at a time.'],
  [/^arpeggio$/, 'The held keys one after another, in time.'],
  [/^hears$/, 'Which port, channel and pedals it listens to.'],
  [/^from$/, 'Where the range begins.'],
  [/^to$/, 'Where the range ends.'],
  [/^fade in$/, 'How far it takes until the layer is whole, from the beginning of the range on.'],
  [/^fade out$/, 'How far before the end of the range the layer begins to go.'],
  [/^shape/, 'How a fade runs: constant sum for what is alike, constant power for what is not.'],
  [/^or CC$/, 'A window on a controller by its number.'],
  [/^Take .* off the list$/, 'The layer no longer chooses this sound.'],
  [/^says which$/, 'What chooses among the sounds of the list.'],
  [/^Add a sound to choose from$/, 'One more sound among which this layer chooses.'],
  [/^choose among/, 'Several sounds for one layer, of which one plays at a time.'],
];

export const IN_SOUNDS: Sentences = [
  [/^Audio input/, 'The device that the layer hears: it belongs to this machine, not to the rig.'],
  [/^(Open|Mute)$/, 'Lets in what comes from the device, or shuts it out; it begins shut.'],
  [/^Speak through/, 'Another layer says what comes in here: a vocoder there listens to this one, in one step.'],
  [/^More for /, 'Rename, duplicate, export or delete this sound.'],
  [/^choose the zone that answers/, 'While you play, the zone that sounds is the one that is chosen.'],
  [/^Map of /, 'Zones on keys and velocities: drag them and their edges; the table below holds the same.'],
  [/^Zones$/, 'All zones of the sound as a table.'],
  [/^Waveform$/, 'The recording of the chosen zone with its start, end and loop.'],
  [/^Zones: arrow keys/, 'The table of zones; a click on a number changes it.'],
  [/^Chosen zones in numbers/, 'The chosen zones in numbers, each or all at once.'],
  [/^(same for all|add|multiply)$/, 'What a typed number does to all chosen zones.'],
  [/^Bring in files/, 'Recordings, SFZ with its samples, or a SoundFont; nothing changes before you place them.'],
  [/^Bring in a folder/, 'A folder of recordings, laid out by their names.'],
  [/Record …$/, 'Records an input as a new sample.'],
  [/^Try the demo folder/, 'A folder of recordings of ours, to see how they are laid out.'],
  [/^Send out …/, 'This sound as SFZ, SoundFont 2, WAV or FLAC.'],
  [/^(●|▲|■|◆|≈)/, 'A part of the synth; a click shows its strips at the right.'],
  [/^[12]?(first|second) filter/, 'A filter of the synth: what is let through of what flows into it.'],
  [/^waves of /, 'The row of waves that this oscillator moves through.'],
  [/^Notes of its maker/, 'What whoever made the sound wants its player to know.'],
  [/^(lowest|highest) key$/, 'How far the spread over keys reaches.'],
  [/^force is$/, 'What counts as force on this controller: pressure, or the strike.'],
  [/^(keys|force|slide)/, 'Which part of the hand moves this part of the grains.'],
  [/^Draw a shape/, 'The loudness of each grain over its length, drawn by hand.'],
  [/^Bring one in/, 'A shape for grains from a file.'],
  [
    /^(soft edges|tapered cosine|Hann|Hamming|Gaussian|triangle|falling|rising|drawn)$/,
    'The loudness of a grain over its length.',
  ],
];

export const IN_CONTROL: Sentences = [
  [/^XY pad .*: drag/, 'Two values at once: drag the dot, or use the arrow keys.'],
  [/^Move .* in the order$/, 'Drag it to another place among the macros.'],
  [/^Filter the routes$/, 'Shows only routes with these words at either end.'],
  [/^tempo$/, 'The tempo of this patch in beats a minute; everything that is in time follows.'],
  [/^Routes$/, 'Every connection of this patch: what moves, what is moved, how far.'],
  [/^Curve$/, 'How the way of the source becomes the way of its target.'],
  [/^Scaled by$/, 'A second source that says how much of this route is felt.'],
  [/: (on|off) for all layers$/, 'Built in and without a route: here it is switched for every layer.'],
  [/^Nothing chosen$/, 'What is chosen shows what it is and what it moves here.'],
  [/^\+ macro$/, 'A knob of your own that moves as much as you like.'],
  [/^\+ XY pad$/, 'A plane with a dot that moves two things at once, or many around it.'],
  [/^Spread over a pad$/, 'Puts the layers around a pad: the dot sets how much of each is heard.'],
  [/^Blend layers$/, 'Puts layers in a row: one value goes from one to the next.'],
  [/^Controllers$/, 'The keys that are there, velocity, takeover, what is learned.'],
  [/^Monitor$/, 'Every MIDI message that comes and goes, in words.'],
  [/(wander|LFO|envelope|contour|steps|sample and hold|follower),/, 'It moves by itself; a click shows how.'],
  [/^XY pad/, 'A plane with its dot; a click on its name shows what it moves.'],
];

export const IN_MIX: Sentences = [
  [/^Way from /, 'A stretch of the river: drag up or down for its level, its end to where it is to flow.'],
  [/^Send from /, 'A branch to a shared effect: drag for how much flows into it.'],
  [/^Main, to the mouth/, 'The way to the output: drag for the level of everything.'],
  [/^(Layer|Group|Shared effect) |^Main$/, 'A click shows its strip and its effects at the right.'],
  [/^(river|strips|take and backing)$/, 'The mix as a river, as a table of strips, or the take and what plays along.'],
  [/^Order of /, 'Drag it to where in the chain the effect belongs.'],
  [/ (on|off)$/, 'Whether the effect is in.'],
  [/^with$|^without$/, 'Hears it with or without its effects, as loud either way if levelled.'],
  [/^measure anew$/, 'Loudness and peaks count from now on.'],
];

export const IN_CHECK: Sentences = [
  [/^(all|keys|strikes|samples|hands|the show|with a reason)/, 'Shows only findings of this kind.'],
  [/^Hear: /, 'Plays exactly the strikes that show it.'],
  [/^as mended$/, 'Plays them as they would be after the proposed edit; nothing has changed yet.'],
  [/^Show it where it is$/, 'Opens the view in which it stands.'],
  [/^Set aside …$/, 'It is meant so: it stays aside with your reason.'],
  [/is for/, 'What a layer is meant for decides what is a fault in it.'],
  [/^Rehearse the show/, 'Plays every patch faster than time, and tells loudness, peaks, voices and load.'],
  [/^Thresholds/, 'From where on something is found; the numbers are the rig’s own.'],
  [/^▶/, 'Plays the strikes that show it.'],
];

export const ON_STAGE: Sentences = [
  [/^start sound$/, 'Browsers let sound begin after a touch.'],
  [/^next/, 'Goes on in the show; → and Page Down do the same.'],
];
