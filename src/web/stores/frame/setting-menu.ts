/** The menu of one setting: what may be made of it. It opens where the setting was pressed. */
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { RouteTarget } from '#core/document/schema.ts';
import type { Owner } from '#core/project/commands/values.ts';

export interface AskedSetting {
  owners: readonly Owner[];
  /** What of it a lane or a dial may move; null: nothing. */
  lane: RouteTarget | null;
  dial: RouteTarget | null;
  paramId: string;
  words: string;
  /** Of the pointer, in pixels of the window. */
  x: number;
  y: number;
}

export const useSettingMenu = defineStore('setting-menu', () => ({ asked: shallowRef<AskedSetting | null>(null) }));
