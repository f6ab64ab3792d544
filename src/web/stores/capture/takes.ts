/** Takes: hits that fell out of an input onto keys of one part, the set. A bad one is thrown away and brought back. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import type { SliceFacts } from '#core/analysis/analyse-source.ts';
import type { CapturedTake } from '#core/capture/capture-session.ts';
import { gainToDb } from '#core/units/level.ts';
import { layZone, layerByStrength } from '#core/project/commands/zones.ts';
import { removeCut, removePart } from '#core/project/commands/parts.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { writeWav } from '#core/formats/wav-write.ts';
import type { Part } from '#core/document/schema.ts';
import { zonesOfPart } from '#core/queries/zones.ts';
import { engine, library } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useShelf } from '../shelf/shelf.ts';
import { useCaptureSettings } from './capture-settings.ts';

export interface TakeEntry {
  number: number;
  name: string;
  role: string;
  /** Time of day, as it is shown. */
  at: string;
  /** Since it has been listened to. */
  atSeconds: number;
  seconds: number;
  peakDb: number;
  skyline: readonly number[];
  sourceId: string;
  frames: number;
  sampleRate: number;
  range: { startFrame: number; endFrame: number };
  facts: SliceFacts;
  channels: number;
  zoneId: string | null;
  isThrown: boolean;
}

const SKYLINE_BARS = 24;
const FADE_STEPS = 24;

function skylineOf(channels: readonly Float32Array[], from: number, to: number): number[] {
  const each = (to - from) / SKYLINE_BARS;
  return Array.from({ length: SKYLINE_BARS }, (_, bar) => {
    let peak = 0;
    const end = Math.floor(from + (bar + 1) * each);
    for (const channel of channels) {
      for (let i = Math.floor(from + bar * each); i < end; i++) peak = Math.max(peak, Math.abs(channel[i]!));
    }
    return peak;
  });
}

export const useTakes = defineStore('takes', () => {
  const notices = useNotices();
  const project = useProject();
  const session = useSession();
  const shelf = useShelf();
  const settings = useCaptureSettings();
  const takes = shallowRef<readonly TakeEntry[]>([]);
  const setName = ref('');
  let setPartId: string | null = null;
  let count = 0;
  let lostTakes = 0;
  const part = computed<Part | null>(() => project.document?.parts[setPartId ?? ''] ?? null);
  /** Takes come into the project one after another. */
  let landing: Promise<void> = Promise.resolve();
  const timeOfDay = () => new Date().toLocaleTimeString('en-GB');

  /** @returns how many did not reach the shelf, once all have been tried */
  async function landed(): Promise<number> {
    await landing;
    const lost = lostTakes;
    lostTakes = 0;
    return lost;
  }

  function receive(take: CapturedTake, facts: SliceFacts): void {
    landing = landing.then(() => land(take, facts));
  }

  /** A hit has fallen: it goes onto the shelf, and onto a key. */
  async function land(take: CapturedTake, facts: SliceFacts): Promise<void> {
    const number = ++count;
    const { sampleRate, channels, startFrame, endFrame, peakDb, atSeconds } = take;
    const alike = takes.value.filter(({ role }) => role === facts.role).length;
    const name = `${facts.role} ${alike + 1}`;
    const bytes = writeWav({ sampleRate, channels }, { encoding: 'float32' });
    try {
      const file = new File([bytes], `${name}, ${setName.value}.wav`, { type: 'audio/wav' });
      const { source } = await library.importFile(file, { origin: `captured, ${setName.value}` });
      const entry: TakeEntry = {
        number,
        name,
        role: facts.role,
        at: timeOfDay(),
        atSeconds,
        seconds: (endFrame - startFrame) / sampleRate,
        peakDb: Math.max(peakDb, gainToDb(Math.max(...skylineOf(channels, startFrame, endFrame)))),
        skyline: skylineOf(channels, startFrame, endFrame),
        sourceId: source.sourceId,
        frames: channels[0]!.length,
        sampleRate,
        range: { startFrame, endFrame },
        facts,
        channels: channels.length,
        zoneId: null,
        isThrown: false,
      };
      entry.zoneId = await lay(entry);
      takes.value = [...takes.value, entry];
      void shelf.refreshSourcesSoon().catch(() => undefined);
      if (settings.kept.isHeard && entry.zoneId) engine.send({ type: 'play-zone', zoneId: entry.zoneId, velocity: 1 });
    } catch (error) {
      notices.error(describeFailure(name, error));
      lostTakes++;
    }
  }

  /** The project that takes fall into: the open one, or one that is made for them. */
  async function projectForTakes(): Promise<boolean> {
    if (project.document) return true;
    const created = await shelf.createProject(setName.value);
    if (created) await project.open(created.id);
    return project.document !== null;
  }

  /** Puts a take onto its key. @returns the zone */
  async function lay(entry: TakeEntry): Promise<string | null> {
    if (!(await projectForTakes())) return null;
    const { name, sourceId, frames, sampleRate, channels, range, facts } = entry;
    const known = part.value;
    const before = takes.value.findLast((one) => !one.isThrown && one.zoneId && project.document!.zones[one.zoneId]);
    const source = { id: sourceId, name: `${name}, ${setName.value}`.slice(0, 200), sampleRate, channels, frames };
    const ranges = [{ ...range, ...facts, strength: 1, name }];
    let zoneId: string | null = null;
    project.step(`take ${entry.number}`, () => {
      const args = { partId: known?.id ?? null, partName: setName.value, source, ranges, key: null };
      if (!project.run('', pickRanges, args)) return;
      const partId = known?.id ?? project.document!.partOrder.at(-1)!;
      setPartId = partId;
      zoneId = project.document!.parts[partId]!.zoneOrder.at(-1)!;
      if (settings.kept.goesTo !== 'key' && before?.zoneId) layWith(partId, before.zoneId, zoneId, entry.peakDb);
    });
    if (zoneId && session.partId !== setPartId) session.choosePart(setPartId);
    return zoneId;
  }

  /** On the key of the one before: as the next layer, the softer first; or in turns. */
  function layWith(partId: string, beforeId: string, zoneId: string, peakDb: number): void {
    const placed = zonesOfPart(project.document!, project.document!.parts[partId]!);
    const keys = placed.find(({ zone }) => zone.id === beforeId)?.keys;
    if (!keys) return;
    const zoneIds = [
      ...placed.flatMap(({ zone, keys: other }) => (zone.id !== zoneId && other?.low === keys.low ? [zone.id] : [])),
      zoneId,
    ];
    if (settings.kept.goesTo === 'layer') {
      const peaks = new Map(takes.value.map((one) => [one.zoneId, one.peakDb]));
      peaks.set(zoneId, peakDb);
      const softestFirst = zoneIds.toSorted((a, b) => (peaks.get(a) ?? Infinity) - (peaks.get(b) ?? Infinity));
      project.run('', layerByStrength, { zoneIds: softestFirst, keys, fade: FADE_STEPS });
      return;
    }
    project.run('', layZone, { zoneId, keys });
    const owners = zoneIds.map((id): Owner => ({ kind: 'zone', id }));
    project.run('', setValue, { owners, param: 'turn', change: { to: 'turn' } });
  }

  function change(number: number, to: Partial<TakeEntry>): void {
    takes.value = takes.value.map((one) => (one.number === number ? { ...one, ...to } : one));
  }

  /** A bad one goes off its key, and can be brought back. */
  function throwAway(entry: TakeEntry | undefined): void {
    const zone = entry?.zoneId ? project.document?.zones[entry.zoneId] : undefined;
    if (!entry || entry.isThrown) {
      notices.info('There is no take to throw away.');
      return;
    }
    if (zone) {
      const { cutId } = zone.plays;
      const isLast = project.document!.parts[zone.partId]!.cutOrder.length === 1;
      if (isLast) project.run(`throw ${entry.name} away`, removePart, { partId: zone.partId });
      else project.run(`throw ${entry.name} away`, removeCut, { cutId });
    }
    change(entry.number, { isThrown: true, zoneId: null });
  }
  const throwLastAway = () => throwAway(takes.value.findLast(({ isThrown }) => !isThrown));

  async function bringBack(entry: TakeEntry): Promise<void> {
    change(entry.number, { isThrown: false, zoneId: await lay(entry) });
  }

  function hear({ zoneId }: TakeEntry): void {
    void engine.resume();
    if (zoneId) engine.send({ type: 'play-zone', zoneId, velocity: 1 });
  }

  /** The takes of before stay where they are; the next ones are a set of their own. */
  function newSet(): void {
    takes.value = [];
    setPartId = null;
    count = 0;
    setName.value = '';
  }

  return { takes, setName, part, receive, landed, throwAway, throwLastAway, bringBack, hear, newSet };
});
