/** What is in a slice: taken apart to be looked at and heard, changed by hand, and kept. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Role } from '#core/analysis/role-names.ts';
import type { AudioData } from '#core/dsp/audio.ts';
import { APART_ROWS, type ApartValues } from '#core/params/apart-rows.ts';
import { fullValues } from '#core/params/row.ts';
import { swapSource } from '#core/project/commands/swap-source.ts';
import { pickRanges } from '#core/project/commands/pick.ts';
import type { PlacedSlice } from '#core/queries/slices.ts';
import { NO_PULLS } from '#core/unmix/border.ts';
import type { LoopSlice } from '#core/unmix/in-loop.ts';
import { LONGEST_SECONDS } from '#core/unmix/take-apart.ts';
import { AppError } from '#core/units/errors.ts';
import { dbToGain } from '#core/units/level.ts';
import { describeFailure } from '../../api/words.ts';
import { shelveMade } from '../../audio/made-source.ts';
import { engine, library } from '../../audio/services.ts';
import type { ApartAsked, ApartResult, GuideAsked, KeepAsked } from '../../workers/analysis-protocol.ts';
import { useNotices } from '../frame/notices.ts';
import { useWork } from '../frame/work.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { usePreview } from '../sound/preview.ts';
import { useShelf } from '../shelf/shelf.ts';

/** A guess is trusted from here on: such a hit may be a guide. */
const SURE = 0.6;
/** What is struck together with what, where nobody has said it. */
const USUAL_SECOND: Partial<Record<Role, Role>> = { kick: 'closed hat', snare: 'closed hat', tom: 'closed hat' };

export interface WantedLayer {
  role: Role;
  guide: GuideAsked;
  gainDb: number;
  /** It is kept; else it is left out. */
  isWanted: boolean;
}

/** What of it is heard: a layer by its place, the ring, what is left of it all, or the slice as it was. */
export type ApartPiece = number | 'ring' | 'result' | 'before';

export const useApart = defineStore('apart', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const work = useWork();
  const preview = usePreview();
  const shelf = useShelf();
  const values = ref<ApartValues>(fullValues(APART_ROWS, {}));
  const layers = ref<WantedLayer[]>([]);
  const pulls = ref<number[]>([...NO_PULLS]);
  const inPlace = ref(false);
  const result = shallowRef<ApartResult | null>(null);
  const isBusy = ref(false);
  /** Why it cannot be taken apart; null where it can. */
  const problem = ref<string | null>(null);
  const heardPiece = ref<ApartPiece | null>(null);
  let asked = 0;
  let heardCount = 0;

  const at = computed<PlacedSlice | null>(
    () => session.placed.find(({ slice }) => slice.id === session.apartSliceId) ?? null,
  );
  const before = computed(() => (at.value && at.value.index > 0 ? (session.placed[at.value.index - 1] ?? null) : null));
  const sampleRate = computed(() => session.source?.sampleRate ?? 44_100);
  const hasRing = computed(() => values.value.ringPercent > 0 && before.value !== null);
  /** What it is done to: all chosen slices where this is one of them. */
  const targets = computed<readonly PlacedSlice[]>(() => {
    if (!at.value) return [];
    const chosen = session.selectedSlices;
    return chosen.some(({ slice }) => slice.id === at.value!.slice.id) ? chosen : [at.value];
  });

  function loopSlices(): LoopSlice[] {
    return session.placed.map(({ startFrame, endFrame, slice: { role, roleConfidence, roleByHand } }) => ({
      startFrame,
      endFrame,
      role,
      isSure: roleByHand || roleConfidence >= SURE,
    }));
  }

  function rolesIn({ slice: { role, secondRole } }: PlacedSlice): Role[] {
    const second = secondRole && secondRole !== role ? secondRole : USUAL_SECOND[role];
    return second ? [role, second] : [role];
  }

  function open(slice: PlacedSlice): void {
    session.apartSliceId = slice.slice.id;
    session.grownBand = 'source';
    session.byLikeness = false;
    setRoles(rolesIn(slice));
    pulls.value = [...NO_PULLS];
  }

  function close(): void {
    session.apartSliceId = null;
    result.value = null;
    stop();
  }

  /** One role or two; the first stays what it was where it is the same. */
  function setRoles(roles: readonly Role[]): void {
    layers.value = roles.map((role, place) => {
      const known = layers.value[place];
      return known?.role === role ? known : { role, guide: { kind: 'found' }, gainDb: 0, isWanted: true };
    });
  }

  function setLayer(place: number, change: Partial<WantedLayer>): void {
    layers.value = layers.value.map((layer, i) => (i === place ? { ...layer, ...change } : layer));
  }

  function wishFor(slice: PlacedSlice): ApartAsked {
    const { softEdgePercent, attacks, ringPercent, ringFromMs, ringUntilMs, leavesLow } = values.value;
    const isShown = slice.slice.id === at.value?.slice.id;
    return {
      place: slice.index,
      // A guide that was chosen for one slice may be another one of those that are taken apart.
      layers: layers.value.map(({ role, guide }) => ({
        role,
        guide: guide.kind === 'slice' && guide.place === slice.index ? { kind: 'found' as const } : { ...guide },
      })),
      softEdgePercent,
      attacks,
      pulls: isShown ? [...pulls.value] : [...NO_PULLS],
      ring:
        ringPercent > 0 && slice.index > 0
          ? { percent: ringPercent, fromSeconds: ringFromMs / 1000, untilSeconds: ringUntilMs / 1000, leavesLow }
          : null,
    };
  }

  async function look(): Promise<void> {
    const slice = at.value;
    const { cut } = session;
    if (!slice || !cut || layers.value.length === 0) return;
    const ticket = ++asked;
    const seconds = (slice.endFrame - slice.startFrame) / sampleRate.value;
    problem.value =
      seconds > LONGEST_SECONDS ? `A slice of ${seconds.toFixed(0)} s is no hit: cut it smaller first.` : null;
    if (problem.value) {
      result.value = null;
      return;
    }
    isBusy.value = true;
    try {
      await library.load(cut.sourceId);
      for (const { guide } of layers.value) if (guide.kind === 'sound') await library.load(guide.sourceId);
      const found = await library.takeApart(cut.sourceId, loopSlices(), wishFor(slice));
      if (ticket === asked) result.value = found;
    } catch (error) {
      if (ticket === asked) problem.value = describeFailure('Taking it apart', error);
    } finally {
      if (ticket === asked) isBusy.value = false;
    }
  }
  watch(
    () => [
      at.value,
      values.value,
      layers.value.map(({ role, guide }) => [role, guide]),
      pulls.value,
      session.cut?.sourceId,
    ],
    look,
    {
      deep: true,
    },
  );
  // Another sound, or a slice that is gone, has nothing to be taken apart.
  watch(
    () => session.apartSliceId !== null && at.value === null,
    (isGone) => isGone && close(),
  );

  /** Linear gains by layer: what is not wanted, and the ring, is at 0. */
  function gains(): number[] {
    const own = layers.value.map(({ gainDb, isWanted }) => (isWanted ? dbToGain(gainDb) : 0));
    return hasRing.value ? [...own, 0] : own;
  }

  function pieceOf(piece: ApartPiece): AudioData | null {
    const apart = result.value;
    const source = session.loaded;
    if (!apart || !source || !at.value) return null;
    const audio = (channels: Float32Array[]) => ({ sampleRate: source.sampleRate, channels });
    if (piece === 'ring') return hasRing.value ? audio(apart.layers.at(-1)!) : null;
    if (piece === 'before')
      return audio(source.channels.map((channel) => channel.slice(at.value!.startFrame, at.value!.endFrame)));
    if (piece === 'result') {
      const by = gains();
      return audio(
        apart.left.map((left, channel) =>
          left.map((value, i) =>
            apart.layers.reduce((sum, layer, place) => sum + (by[place] ?? 0) * layer[channel]![i]!, value),
          ),
        ),
      );
    }
    const layer = apart.layers[piece];
    return layer ? audio(layer) : null;
  }

  async function hear(piece: ApartPiece): Promise<void> {
    const audio = pieceOf(piece);
    if (!audio) return;
    stop();
    heardPiece.value = piece;
    await preview.playSamples(`apart:${++heardCount}`, audio);
  }

  function stop(): void {
    if (heardPiece.value === null) return;
    heardPiece.value = null;
    preview.stopPreview();
    engine.forgetSources([`apart:${heardCount}`]);
  }
  watch(
    () => preview.previewId,
    (id) => {
      if (id !== `apart:${heardCount}`) heardPiece.value = null;
    },
  );

  /** All slices of the loop in which the same two may be. */
  function chooseAlike(): void {
    const roles = layers.value.map(({ role }) => role);
    const same = session.placed.filter((one) => {
      const { role, secondRole } = one.slice;
      return (
        (role === roles[0] && (roles.length < 2 || secondRole === roles[1])) || one.slice.id === at.value?.slice.id
      );
    });
    session.selectSlices(same.map(({ slice }) => slice.id));
  }

  /** Takes apart what is chosen and puts it where it is wanted. */
  async function keep(): Promise<void> {
    const { cut, source, part } = session;
    if (!cut || !source || !part || !project.document) return;
    const documentId = project.document.id;
    const slices = [...targets.value];
    const by = gains();
    const keeping: KeepAsked[] = slices.map((slice) => {
      const wish = wishFor(slice);
      return { wish, gains: wish.ring ? [...by.slice(0, layers.value.length), 0] : by.slice(0, layers.value.length) };
    });
    const roles = layers.value.map(({ role }) => role);
    const isInPlace = inPlace.value;
    const abort = new AbortController();
    const workId = work.begin({ kind: 'apart', name: source.name, share: 0, cancel: () => abort.abort() });
    const onProgress = (share: number) => work.update(workId, { share });
    try {
      const { wav, sounds } = await library.keepApart(cut.sourceId, loopSlices(), keeping, isInPlace, {
        onProgress: (share) => onProgress(0.7 * share),
        signal: abort.signal,
      });
      const what = slices.length === 1 ? `slice ${slices[0]!.index + 1}` : `${slices.length} slices`;
      const made = await shelveMade(wav, `${source.name}, ${what} taken apart`, {
        onProgress: (share) => onProgress(0.7 + 0.3 * share),
        signal: abort.signal,
        origin: `${what} of ${source.name}, taken apart`,
      });
      void shelf.refreshSourcesSoon().catch(() => undefined);
      if (project.document?.id !== documentId) {
        notices.info(`${made.name} is on the shelf: its project is not open any more.`);
        return;
      }
      if (isInPlace) {
        if (project.run(`take apart ${what}`, swapSource, { cutId: cut.id, source: made })) close();
        return;
      }
      const facts = await library.describe(made.id, sounds);
      const ranges = sounds.map(({ startFrame, endFrame, layer, place }, i) => {
        const role = roles[layer]!;
        return {
          ...facts[i]!,
          startFrame,
          endFrame,
          role,
          roleConfidence: 1,
          secondRole: undefined,
          strength: 1,
          name: `${role} of ${place + 1}`,
        };
      });
      const before = new Set(Object.keys(project.document.zones));
      const args = { partId: part.id, partName: part.name, source: made, ranges, key: null };
      if (!project.run(`take apart ${what}`, pickRanges, args)) return;
      session.selectZones(session.zones.filter(({ zone }) => !before.has(zone.id)).map(({ zone }) => zone.id));
      notices.info(`${sounds.length} new sounds lie on the next free keys.`);
    } catch (error) {
      if (error instanceof AppError && error.code === 'cancelled') return;
      const words = describeFailure(`Taking ${source.name} apart`, error);
      notices.error(words);
      work.fail(words);
    } finally {
      work.end(workId);
    }
  }

  return {
    at,
    before,
    values,
    layers,
    pulls,
    inPlace,
    result,
    isBusy,
    problem,
    hasRing,
    targets,
    heardPiece,
    open,
    close,
    setRoles,
    setLayer,
    chooseAlike,
    hear,
    stop,
    keep,
  };
});
