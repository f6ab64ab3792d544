/**
 * What moves on the screen gives way to sound: while the machine cannot keep up with its screen, every third picture is
 * drawn, of everything that moves at once; when it keeps up again, each. With two processors or fewer it is every second
 * one in any case: without a graphics card each costs a hundredth of a second of one of them.
 */
import { useRafFn } from '@vueuse/core';

/** A picture later than this after the one before has missed its turn, on a screen of 60 a second. */
const LATE_MS = 21;
/** How much of the pictures lately were late: above the first share fewer are drawn, below the second each again. */
const BUSY_SHARE = 0.12;
const CALM_SHARE = 0.03;
const EVERY_BUSY = 3;
const EVERY_OF_FEW = 2;
const FEW_PROCESSORS = 2;
/** Of so many pictures the share is told, about. */
const MEMORY = 60;

export class PictureGate {
  private last = -Infinity;
  private lateShare = 0;
  private isBusy = false;
  private count = 0;
  private isDue = true;
  private readonly every: number;

  constructor(processors: number) {
    this.every = processors <= FEW_PROCESSORS ? EVERY_OF_FEW : 1;
  }

  /** Is what moves drawn at this picture? The same for all who ask at one. @param timestamp of the picture, in milliseconds */
  due(timestamp: number): boolean {
    if (timestamp === this.last) return this.isDue;
    const since = timestamp - this.last;
    this.last = timestamp;
    // A window that was hidden tells nothing.
    if (since < 1000) {
      this.lateShare += ((since > LATE_MS ? 1 : 0) - this.lateShare) / MEMORY;
      if (this.lateShare > BUSY_SHARE) this.isBusy = true;
      else if (this.lateShare < CALM_SHARE) this.isBusy = false;
    }
    this.count++;
    this.isDue = this.count % (this.isBusy ? EVERY_BUSY : this.every) === 0;
    return this.isDue;
  }
}

// Not known where the browser does not tell, and where there is none.
const gate = new PictureGate(globalThis.navigator?.hardwareConcurrency ?? Infinity);
export const isPictureDue = (timestamp: number): boolean => gate.due(timestamp);

/** Draws what moves, picture by picture, as long as the component is there. */
export function usePictures(draw: (timestamp: number) => void): void {
  useRafFn(({ timestamp }) => {
    if (isPictureDue(timestamp)) draw(timestamp);
  });
}
