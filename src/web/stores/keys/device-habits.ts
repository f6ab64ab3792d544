/**
 * What devices move in every project: kept on the shelf under their names, found again in the project that is open and its
 * chosen part.
 */
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import type { ShelfItem } from '#core/api/shelf.ts';
import type { Mapping } from '#core/document/schema.ts';
import { DEVICE_VERSION, generalOf, particularOf, type GeneralMapping } from '#core/project/device-of.ts';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { whenBack } from '../frame/when-back.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';

export const useDeviceHabits = defineStore('device-habits', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const items = shallowRef<readonly ShelfItem<'device'>[]>([]);

  /** By the names of devices: the last that was kept counts. */
  const kept = computed(() => new Map(items.value.map((item) => [item.facts.habits.name, item])));
  const names = computed(() => [...kept.value.keys()]);
  /** What they move in this project. */
  const here = computed<Mapping[]>(() => {
    const { document } = project;
    if (!document) return [];
    const chosen = { part: session.part, cutId: session.cut?.id ?? null };
    return [...kept.value].flatMap(([device, { facts }]) =>
      facts.habits.mappings.flatMap((one) => particularOf(document, chosen, device, one) ?? []),
    );
  });

  async function refresh(): Promise<void> {
    try {
      items.value = await api.records('device');
    } catch {
      // Without the server devices move what the project says; what they bring along comes with the next that is kept.
    }
  }
  void refresh();
  whenBack(refresh);

  /** The new one is there before those that it takes the place of go. */
  async function put(device: string, mappings: readonly GeneralMapping[]): Promise<() => Promise<void>> {
    const before = items.value.filter(({ facts }) => facts.habits.name === device);
    const record = { schemaVersion: DEVICE_VERSION, name: device, mappings: [...mappings] };
    const added = mappings.length > 0 ? await api.addRecord('device', record) : null;
    for (const { id } of before) await api.removeRecord('device', id);
    await refresh();
    return async () => {
      for (const { id } of before) await api.restoreRecord('device', id);
      if (added) await api.removeRecord('device', added.id);
      await refresh();
    };
  }

  async function attempt(device: string, mappings: readonly GeneralMapping[], words: string): Promise<void> {
    try {
      const takeBack = await put(device, mappings);
      const run = () => void takeBack().catch((error: unknown) => notices.error(describeFailure(device, error)));
      notices.info(words, { label: 'Undo', run });
    } catch (error) {
      notices.error(describeFailure(`What ${device} moves in every project`, error));
      await refresh();
    }
  }

  /** What a device moves in this project, it moves in every one that says nothing else, as far as that has such settings. */
  async function keep(device: string): Promise<void> {
    const { document } = project;
    if (!document) return;
    const own = Object.values(document.mappings).filter((one) => one.device === device);
    const general = own.flatMap((one) => generalOf(document, one) ?? []);
    if (general.length === 0) {
      notices.info(
        'There is nothing here that every project has: a single slice, a bus, a range of keys are of this one.',
      );
      return;
    }
    // What it has done in every project and this one says nothing of stays.
    const moved = new Set(general.map(({ source }) => JSON.stringify(source)));
    const others = kept.value.get(device)?.facts.habits.mappings ?? [];
    const all = [...others.filter(({ source }) => !moved.has(JSON.stringify(source))), ...general];
    const left = own.length - general.length;
    const except = left > 0 ? `, but ${left} that ${left === 1 ? 'belongs' : 'belong'} to this one` : '';
    await attempt(device, all, `${device} does this in every project now${except}.`);
  }

  /** One of what it brings along is brought no longer. */
  async function forget(device: string, mappingId: string): Promise<void> {
    const others = kept.value.get(device)?.facts.habits.mappings ?? [];
    const left = others.filter(({ id }) => id !== mappingId);
    await attempt(device, left, `${device} does one thing less in every project.`);
  }

  return { names, here, keep, forget };
});
