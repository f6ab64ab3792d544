/** The dialogs of the frame that several hands can open. */
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

export const useDialogs = defineStore('dialogs', () => {
  const searching = ref(false);
  const helping = ref(false);
  const versions = ref(false);
  /** A MIDI file that is to become a pattern of the open part. */
  const midiFile = shallowRef<File | null>(null);
  /** A part that is to be printed. */
  const printPartId = ref<string | null>(null);
  return { printPartId, midiFile, searching, helping, versions };
});
