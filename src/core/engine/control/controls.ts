/** What hands move beside keys: wheel, pressure, controllers and the pedal, as a part has heard them last. */

/** Numbers of the MIDI 1.0 specification, table "Control Change Messages". */
export const MODULATION_WHEEL = 1;
export const SUSTAIN_PEDAL = 64;
export const ALL_SOUND_OFF = 120;
export const RESET_CONTROLLERS = 121;
export const ALL_NOTES_OFF = 123;
/** A pedal is down from here on. */
const PEDAL_DOWN = 64 / 127;

export class PartControls {
  /** -1..1 */
  bend = 0;
  /** 0..1, of the whole keyboard. */
  pressure = 0;
  /** By number, 0..1. */
  readonly controllers = new Float32Array(128);

  reset(): void {
    this.bend = 0;
    this.pressure = 0;
    this.controllers.fill(0);
  }

  get isPedalDown(): boolean {
    return this.controllers[SUSTAIN_PEDAL]! >= PEDAL_DOWN - 1e-6;
  }
}
