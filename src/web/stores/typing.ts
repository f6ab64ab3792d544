/** The computer keyboard as keys: where it begins, how strong it strikes, and its pedal. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

const LOWEST_OCTAVE = -5;
const HIGHEST_OCTAVE = 5;
const STRENGTH_STEP = 10;

export const useTyping = defineStore('typing', () => {
  /** Octaves from where the part's keys begin. */
  const octave = ref(0);
  /** 1..127: a computer keyboard knows no strength. */
  const strength = ref(114);

  function moveOctave(by: number): void {
    octave.value = Math.max(LOWEST_OCTAVE, Math.min(HIGHEST_OCTAVE, octave.value + by));
  }

  function moveStrength(by: 1 | -1): void {
    strength.value = Math.max(1, Math.min(127, strength.value + by * STRENGTH_STEP));
  }

  return { octave, strength, moveOctave, moveStrength };
});
