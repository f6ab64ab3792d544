/** Plays the project that the page holds: the same engine and the same commands as the application's, with nothing to save to. */
import { computed, ref, shallowRef } from 'vue';
import type { ProjectDocument } from '#core/document/schema.ts';
import { PlanCompiler } from '#core/engine/plan/compile.ts';
import { orderLayout } from '#core/order/layout.ts';
import type { Command, CommandEnv } from '#core/project/commands/command.ts';
import { EngineHost } from '../audio/engine-host.ts';
import { RenderingCache } from '../audio/renderings.ts';
import type { Held } from './held.ts';
import StretchWorker from '../workers/stretch.worker.ts?worker&inline';

const ENV: CommandEnv = {
  newId: () => Array.from(crypto.getRandomValues(new Uint32Array(3)), (part) => part.toString(36)).join(''),
  newSeed: () => crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1 || 1,
};

export function usePlayer({ project, audio, engineUrl }: Held) {
  const document = shallowRef<ProjectDocument>(project);
  const engine = new EngineHost(engineUrl);
  const renderings = new RenderingCache(audio, () => new StretchWorker());
  const compiler = new PlanCompiler();
  const playing = ref(false);
  const followsOrder = ref(orderLayout(project).sections.length > 0);
  /** What each part plays, and what waits for its turn, as the engine tells. */
  const heard = shallowRef<Readonly<Record<string, { playing: string | null; waiting: string | null }>>>({});
  /** Stretched slices that are still to come. */
  const missing = ref(0);
  /** Why something was not done. */
  const words = ref('');
  let order = 0;

  function send(waitsOf?: string): void {
    renderings.request(document.value, engine.positionTicksNow());
    missing.value = renderings.missing;
    const patch = compiler.update(document.value, { assets: audio, renderings });
    if (patch) engine.sendPatch(patch, compiler, waitsOf);
  }
  renderings.onReady = () => send();

  engine.onStatus((status) => {
    if (status.order === order) playing.value = status.playing;
    const now = Object.fromEntries(
      status.parts.map((part) => [part.partId, { playing: part.playing, waiting: part.waiting }]),
    );
    if (JSON.stringify(now) !== JSON.stringify(heard.value)) heard.value = now;
  });

  /** @param waitsOf how this part sounds is heard from the next line on */
  function run<Args>(command: Command<Args>, args: Args, waitsOf?: string): void {
    const result = command(document.value, args, ENV);
    words.value = result.ok ? '' : result.reason;
    if (!result.ok) return;
    document.value = result.document;
    send(waitsOf);
  }

  async function play(): Promise<void> {
    await engine.resume();
    send();
    const { lengthTicks } = orderLayout(document.value);
    const isOrder = followsOrder.value && lengthTicks > 0;
    const way = { followsOrder: isOrder, returnTicks: isOrder ? 0 : null };
    engine.send({ type: 'play', fromTicks: 0, endTicks: isOrder ? lengthTicks : Infinity, order: ++order, way });
    playing.value = true;
  }

  function stop(): void {
    engine.send({ type: 'stop', order: ++order });
    playing.value = false;
  }

  function follow(isOrder: boolean): void {
    followsOrder.value = isOrder;
    if (playing.value) void play();
  }

  let lastNote = 0;
  const held = new Map<string, number>();
  /** @param name of what presses it: it is let go by the same */
  function press(name: string, partId: string, key: number): void {
    if (held.has(name)) return;
    void engine.resume();
    held.set(name, ++lastNote);
    engine.send({ type: 'note-on', noteId: lastNote, partId, key, velocity: 0.9, timeSeconds: null });
  }
  function letGo(name: string): void {
    const noteId = held.get(name);
    held.delete(name);
    if (noteId !== undefined) engine.send({ type: 'note-off', noteId, timeSeconds: null });
  }

  // What is stretched is begun at once; what the engine is told before it is there waits for it.
  send();
  void engine.start();
  const hasOrder = computed(() => orderLayout(document.value).sections.length > 0);
  return {
    document,
    engine,
    playing,
    followsOrder,
    follow,
    hasOrder,
    heard,
    missing,
    words,
    run,
    play,
    stop,
    press,
    letGo,
  };
}
export type Player = ReturnType<typeof usePlayer>;
