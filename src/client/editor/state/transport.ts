/** Which frame is shown, and how frames run. */
export interface TransportState {
  /** The frame of the take that is shown, from 0. */
  frame: number;
  playing: boolean;
  /** Frames that were left out since it plays. */
  dropped: number;
  /** How fast it plays: 1 is the true rate, below 0 backward. */
  speed: number;
  loop: boolean;
  /** The stretch that is marked, both ends within; playing stays within it. */
  marked: { in: number; out: number } | null;
}

export const firstTransport = (frame: number): TransportState => ({ frame, playing: false, dropped: 0, speed: 1, loop: true, marked: null });
