/** The chain that is shown: whose it is, which of its effects is chosen, and all that is done to it. */
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ShelfItem } from '#core/api/shelf.ts';
import { EFFECT_ROWS, EFFECT_WORDS, type EffectKind } from '#core/params/effects.ts';
import { chainOf, chainToKeep, type Chain } from '#core/project/chain-of.ts';
import { chainOfChannel, placeOf, type ChainPlace } from '#core/project/chain-order.ts';
import {
  addEffect,
  bypassEffect,
  copyEffect,
  listenTo,
  moveEffect,
  putChain,
  removeEffect,
  removePath,
} from '#core/project/commands/effects.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { mainChannel } from '#core/queries/channels.ts';
import { nameOfChannel } from '#core/queries/channel-names.ts';
import { channelValues } from '#core/queries/values.ts';
import { api } from '../../api/client.ts';
import { engine } from '../../audio/services.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';
import { useSession } from '../document/session.ts';
import { shelfRecords } from '../shelf/shelf-records.ts';

export const useChain = defineStore('chain', () => {
  const project = useProject();
  const session = useSession();
  const notices = useNotices();
  const { add: keepOnShelf, ...shelf } = shelfRecords('chain', 'channels that it was put on');
  /** A bus or the mix; null: the chosen part's own. */
  const wantedChannelId = ref<string | null>(null);
  const chosenId = ref<string | null>(null);
  const copied = shallowRef<Chain | null>(null);

  const channel = computed(() => {
    const { document } = project;
    if (!document) return null;
    return document.channels[wantedChannelId.value ?? ''] ?? document.channels[session.part?.channelId ?? ''] ?? null;
  });
  const effects = computed(() => channel.value?.effectOrder.map((id) => project.document!.effects[id]!) ?? []);
  /** In line, each with the effects of its paths. */
  const items = computed(() => (channel.value ? chainOfChannel(project.document!, channel.value) : []));
  const chosen = computed(() => effects.value.find(({ id }) => id === chosenId.value) ?? null);
  const values = computed(() => (channel.value ? channelValues(channel.value) : null));
  const owners = computed<Owner[]>(() => (channel.value ? [{ kind: 'channel', id: channel.value.id }] : []));
  /** Whose chain may be shown: the chosen part's, those of the buses, and that of the mix. */
  const choices = computed(() => {
    const { document } = project;
    if (!document || !session.part) return [];
    const buses = Object.values(document.channels).filter(({ kind }) => kind === 'bus');
    return [session.part.channelId, ...buses.map(({ id }) => id), mainChannel(document).id].map((id) => ({
      value: id,
      words: nameOfChannel(document, id),
    }));
  });

  // An effect that gave no sound but no number was silenced for a moment: said once for each.
  const toldOf = new Set<string>();
  engine.onStatus(({ mix }) => {
    for (const id of mix.troubled) {
      const effect = project.document?.effects[id];
      if (!effect || toldOf.has(id)) continue;
      toldOf.add(id);
      notices.error(`The ${EFFECT_WORDS[effect.kind]} made no sound of what it got, and was silent for a moment.`);
    }
  });

  // Who chooses sounds wants their settings; who plays keys goes on with the effect.
  watch([() => session.zoneIds, () => session.sliceIds], () => {
    if (!session.isChosenByPlaying) chosenId.value = null;
  });

  function show(channelId: string): void {
    wantedChannelId.value = channelId === session.part?.channelId ? null : channelId;
    chosenId.value = null;
  }

  /** Behind the chosen effect, or at the end; paths stand in line. */
  function placeForNew(kind: EffectKind): ChainPlace {
    if (!chosen.value) return {};
    const at = placeOf(items.value, chosen.value.id);
    if (at.forkId === undefined || kind !== 'paths') return { ...at, place: at.place + 1 };
    return { place: placeOf(items.value, at.forkId).place + 1 };
  }

  function add(kind: EffectKind, at = placeForNew(kind)): void {
    if (!channel.value) return;
    const args = { channelId: channel.value.id, kind, ...at };
    project.step(`add ${EFFECT_WORDS[kind]}`, () => {
      const added = project.run('', addEffect, args);
      if (!added) return;
      [chosenId.value] = added.made as [string];
      if (kind === 'ducking') underKicks(added.made[0]!);
      // What is sent to a bus is wet there: the dry sound comes by its own way.
      if (channel.value?.kind === 'bus' && EFFECT_ROWS[kind].wet.default < 1) {
        const effect: Owner[] = [{ kind: 'effect', id: added.made[0]! }];
        project.run('', setValue, { owners: effect, param: 'wet', change: { to: 1 } });
      }
    });
  }

  /** What gives way mostly gives way to kicks: to those of another part, where there are any. */
  function underKicks(effectId: string): void {
    const { parts, partOrder, cuts } = project.document!;
    const hasKicks = ({ cutOrder }: Part) =>
      cutOrder.some((id) => Object.values(cuts[id]!.slices).some(({ role }) => role === 'kick'));
    const drums = partOrder
      .map((id) => parts[id]!)
      .find((part) => part.channelId !== channel.value?.id && hasKicks(part));
    if (!drums || !project.isPossible(listenTo, { effectId, sideChannelId: drums.channelId })) return;
    listen(effectId, drums.channelId);
    const owners: Owner[] = [{ kind: 'effect', id: effectId }];
    project.run('', setValue, { owners, param: 'under', change: { to: 'kicks' } });
  }

  function move(effectId: string, to: ChainPlace): void {
    project.run('move an effect', moveEffect, { effectId, ...to });
  }

  function takePathOut(forkId: string, path: number): void {
    project.run('take a path out', removePath, { forkId, path });
  }

  function remove(effectId: string): void {
    const at = effects.value.findIndex(({ id }) => id === effectId);
    if (project.run('take an effect out', removeEffect, { effectId })) {
      chosenId.value = (effects.value[at] ?? effects.value.at(-1))?.id ?? null;
    }
  }

  function duplicate(effectId: string): void {
    const copy = project.run('copy an effect', copyEffect, { effectId });
    if (copy) chosenId.value = copy.made[0]!;
  }

  function toggle(effectId: string): void {
    const { bypassed } = project.document!.effects[effectId]!;
    project.run(bypassed ? 'effect on' : 'effect off', bypassEffect, { effectId, bypassed: !bypassed });
  }

  function listen(effectId: string, sideChannelId: string | null): void {
    project.run('listen to', listenTo, { effectId, sideChannelId });
  }

  function setWay(label: string, to: string): void {
    project.run(label, setValue, { owners: owners.value, param: 'chain', change: { to } });
  }
  const toggleAll = () => setWay('whole chain', values.value?.chain === 'on' ? 'off' : 'on');
  /** With it and without it, both as loud. */
  function compare(): void {
    if (effects.value.length === 0) notices.info('There is no effect yet to compare with none.');
    else setWay('compare with no chain', values.value?.chain === 'compared' ? 'on' : 'compared');
  }

  const nameNow = () => (channel.value ? nameOfChannel(project.document!, channel.value.id) : '');
  function copyAll(): void {
    if (!channel.value) return;
    copied.value = chainOf(project.document!, channel.value, nameNow());
    notices.info(`The chain of ${nameNow()} is copied: choose another part, and put it on.`);
  }

  function putOn(chain: Chain): void {
    if (!channel.value) return;
    chosenId.value = null;
    project.run(`chain ${chain.name}`, putChain, { channelId: channel.value.id, chain });
  }

  async function keep(name: string): Promise<void> {
    if (!channel.value) return;
    const wanted = name.trim();
    if (!wanted) return;
    const chain = chainToKeep(chainOf(project.document!, channel.value, wanted));
    if (await keepOnShelf(wanted, chain)) notices.info(`The chain “${wanted}” is on the shelf.`);
  }

  async function putOnFromShelf({ id, name }: ShelfItem<'chain'>): Promise<void> {
    try {
      putOn(await api.loadRecord('chain', id));
    } catch (error) {
      notices.error(describeFailure(name, error));
    }
  }

  return {
    shelf,
    shelfList: shelf.list,
    channel,
    effects,
    items,
    chosen,
    chosenId,
    copied,
    values,
    owners,
    choices,
    show,
    add,
    move,
    takePathOut,
    remove,
    duplicate,
    toggle,
    listen,
    toggleAll,
    compare,
    copyAll,
    putOn,
    keep,
    putOnFromShelf,
  };
});
