/** Markers set and moved by hand: where they snap to, and how the sound that they bound is described. */
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { nearestStepFrame } from '#core/patterns/grid.ts';
import { addMarker, moveMarker } from '#core/project/commands/cut.ts';
import { setSliceEnds } from '#core/project/commands/slices.ts';
import { sliceAtFrame } from '#core/queries/slices.ts';
import { cutValues } from '#core/queries/values.ts';
import { engine, library, notes } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import type { Gesture } from '../document/gesture.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { useCutting } from './cutting.ts';

/** A marker that is dropped looks so far for where it belongs: pixels of the screen, and time. */
const REACH_PX = 6;
const MAX_REACH_SECONDS = 0.012;

export const useMarkers = defineStore('markers', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const cutting = useCutting();
  /** How close the source is looked at: frames of it in a pixel. */
  const framesPerPixel = ref(1);

  /**
   * Where a marker near a frame belongs by the chosen snap.
   * @param reachMs how far an attack may lie; a few pixels when left out
   */
  async function snapped(frame: number, reachMs?: number): Promise<number> {
    const { id, sampleRate } = session.source!;
    if (reachMs === undefined && session.snapTo === 'nothing') return frame;
    const { loop } = session.cut!;
    if (reachMs === undefined && session.snapTo === 'grid' && loop) {
      return nearestStepFrame(loop, cutValues(session.cut!).stepTicks, frame);
    }
    const near = Math.min(MAX_REACH_SECONDS * sampleRate, framesPerPixel.value * REACH_PX);
    const reachFrames = Math.round(reachMs === undefined ? near : (reachMs / 1000) * sampleRate);
    return library.snap(id, frame, reachFrames, reachMs !== undefined || session.snapTo === 'attack');
  }

  /** Where an end of a loop near a frame belongs: on an attack where markers go there, too, else on a zero crossing. */
  async function snappedTo(frame: number, neverToAttack: boolean): Promise<number> {
    const { id, sampleRate } = session.source!;
    const at = Math.round(frame);
    if (session.snapTo === 'nothing') return at;
    const reachFrames = Math.round(Math.min(MAX_REACH_SECONDS * sampleRate, framesPerPixel.value * REACH_PX));
    try {
      return await library.snap(id, at, reachFrames, session.snapTo === 'attack' && !neverToAttack);
    } catch (error) {
      notices.error(describeFailure('Snapping the loop', error));
      return at;
    }
  }

  /**
   * Ends a drag, and lets what it dropped snap within the same undo step, unless something else was done meanwhile: that
   * is a step of its own.
   * @param snap gives what snapping comes to; it is run as part of the drag's step
   */
  async function commitAndSnap(
    gesture: Gesture,
    snap: () => Promise<(label: string, joins: string) => void>,
  ): Promise<void> {
    const joins = `snap ${crypto.randomUUID()}`;
    gesture.commit(joins);
    const put = await snap();
    if (project.canJoin(joins)) put(gesture.label, joins);
  }

  /** Lets a dropped marker snap to an attack or a zero crossing nearby. */
  async function snapDropped(gesture: Gesture, cutId: string, sliceId: string): Promise<void> {
    const slice = project.document?.cuts[cutId]?.slices[sliceId];
    if (!slice || !session.source) {
      gesture.commit();
      return;
    }
    try {
      await commitAndSnap(gesture, async () => {
        const startFrame = await snapped(slice.startFrame);
        return (label, joins) => project.run(label, moveMarker, { cutId, sliceId, startFrame }, joins);
      });
    } catch (error) {
      notices.error(describeFailure('Snapping the marker', error));
    }
  }

  /**
   * Adds a marker near a frame, on the attack or zero crossing there; exactly there when `free`.
   * @param reachMs how far the attack may lie; a few pixels when left out
   */
  async function add(frame: number, free = false, reachMs?: number): Promise<void> {
    const { cut, source } = session;
    if (!cut || !source) return;
    const at = Math.max(0, Math.min(source.frames - 1, Math.round(frame)));
    try {
      const startFrame = free ? at : await snapped(at, reachMs);
      const endFrame = session.placed.find((other) => other.startFrame > startFrame)?.startFrame ?? source.frames;
      const among = session.placed.map((one) => ({ startFrame: one.startFrame, endFrame: one.endFrame }));
      const [facts] = await library.describe(cut.sourceId, [{ startFrame, endFrame }], among);
      const slice = { startFrame, strength: 1, ...facts! };
      if (!project.run('add marker', addMarker, { cutId: cut.id, slice })) return;
      const added = session.placed.find((other) => other.startFrame === startFrame);
      if (added) session.selectSlices([added.slice.id]);
    } catch (error) {
      notices.error(describeFailure('Adding a marker', error));
    }
  }

  /** Moves the selected marker by a pixel's worth of frames: the closer the view, the finer. */
  function nudge(by: 1 | -1): void {
    const at = session.selectedSlices[0];
    if (!at || !session.cut) return;
    const startFrame = at.startFrame + by * Math.max(1, Math.round(framesPerPixel.value));
    const args = { cutId: session.cut.id, sliceId: at.slice.id, startFrame };
    project.run(`move slice ${at.index + 1}`, moveMarker, args);
  }

  /** The frame of the source that sounds now, of the latest slice that started; null when none does. */
  function soundingFrame(): number | null {
    const rate = session.loaded?.sampleRate ?? 44100;
    const { sounding, previewing, previewFrame } = engine.status;
    const latest = sounding.findLast(([, zoneId]) => session.sliceByZone.has(zoneId));
    const frame = latest?.[2] ?? (previewing ? previewFrame : null);
    return frame === null ? null : engine.heardFrame(frame, rate);
  }

  /** A marker where the sound is; a tap is taken back to the attack that it was meant for. */
  function addHere(): void {
    const frame = soundingFrame();
    const tapWindowMs = session.cut ? cutValues(session.cut).tapWindowMs : 0;
    if (frame === null) notices.info('Play something first: the marker is set where the sound is.');
    else void add(frame, isTapping.value && tapWindowMs === 0, isTapping.value ? tapWindowMs : undefined);
  }

  const isTapping = computed(() => cutting.method === 'taps');
  /** Any key, letter or pad is a tap, until something else is cut or the way to cut is another one. */
  const keysTap = ref(false);
  watch([() => session.cut?.id, isTapping], () => (keysTap.value = false));
  notes.taps = () => {
    if (!keysTap.value) return false;
    addHere();
    return true;
  };

  /** Moves the start or the end of the slice that sounds to where the sound is. */
  function trimHere(side: 'start' | 'end'): void {
    const frame = soundingFrame();
    const at = session.selectedSlices[0] ?? (frame === null ? undefined : sliceAtFrame(session.placed, frame));
    if (frame === null || !at || !session.cut) notices.info('Play a slice first: it is trimmed where the sound is.');
    else if (side === 'start')
      project.run('trim the start', moveMarker, { cutId: session.cut.id, sliceId: at.slice.id, startFrame: frame });
    else project.run('trim the end', setSliceEnds, { cutId: session.cut.id, ends: { [at.slice.id]: frame } });
  }

  return { framesPerPixel, keysTap, commitAndSnap, snapDropped, snappedTo, add, nudge, addHere, trimHere };
});
