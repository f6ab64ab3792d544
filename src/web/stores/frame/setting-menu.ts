/** The menu of one setting: what may be made of it. It opens where the setting was pressed. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { RouteTarget } from '#core/document/schema.ts';

export interface AskedSetting {
  /** What of it a lane may move; null: nothing. */
  lane: RouteTarget | null;
  dial: RouteTarget;
  paramId: string;
  words: string;
  /** Of the pointer, in pixels of the window. */
  x: number;
  y: number;
}

export const useSettingMenu = defineStore('setting-menu', () => ({ asked: shallowRef<AskedSetting | null>(null) }));
