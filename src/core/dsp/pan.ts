/** Gains of a two-channel panner: left→left, right→left, left→right, right→right. */
export interface PanGains {
  ll: number;
  rl: number;
  lr: number;
  rr: number;
}

/**
 * Equal-power panning exactly as the Web Audio API specifies for StereoPannerNode. The pan, −1…1, is `values[place]`.
 * A mono signal counts as the left channel: `ll` and `lr` are its gains.
 */
export function setPan(gains: PanGains, values: ArrayLike<number>, place: number, channels: 1 | 2): void {
  const pan = values[place];
  if (channels === 1) {
    const x = ((pan + 1) / 2) * (Math.PI / 2);
    gains.ll = Math.cos(x);
    gains.lr = Math.sin(x);
    gains.rl = gains.rr = 0;
  } else if (pan <= 0) {
    const x = (pan + 1) * (Math.PI / 2);
    gains.ll = 1;
    gains.rl = pan === 0 ? 0 : Math.cos(x);
    gains.lr = 0;
    gains.rr = Math.sin(x);
  } else {
    const x = pan * (Math.PI / 2);
    gains.ll = Math.cos(x);
    gains.rl = 0;
    gains.lr = Math.sin(x);
    gains.rr = 1;
  }
}

/** Writes gains where the kernel's loops read them: left to left, left to right, right to left, right to right. */
export function layPan({ ll, lr, rl, rr }: PanGains, into: Float64Array, at: number): void {
  into[at] = ll;
  into[at + 1] = lr;
  into[at + 2] = rl;
  into[at + 3] = rr;
}
