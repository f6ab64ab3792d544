/** Grooves on the shelf. */
import { defineStore } from 'pinia';
import type { Groove } from '#core/document/schema.ts';
import { shelfRecords } from '../shelf/shelf-records.ts';

export const useGrooves = defineStore('grooves', () => {
  const { add, ...records } = shelfRecords('groove', 'parts that use it');
  return { ...records, keep: (groove: Groove) => add(groove.name, groove) };
});
