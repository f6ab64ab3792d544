/** Plans rendered away from the page: with all that is stretched in them, without the click. */
import { compilePlan } from '#core/engine/plan/compile.ts';
import type { RenderPlan } from '#core/engine/plan/fragments.ts';
import { withValues } from '#core/params/row.ts';
import { SONG_ROWS } from '#core/params/tables.ts';
import { soundingSlice } from '#core/takeaway/sounding-slices.ts';
import type { Part, ProjectDocument } from '#core/document/schema.ts';
import type { BounceRequest, BounceResult } from '../workers/bounce.worker.ts';
import type { PlannedSlice } from '../workers/export.worker.ts';
import { WorkerClient } from '../workers/rpc.ts';
import { ENGINE_SAMPLE_RATE } from './engine-host.ts';
import { library, renderings } from './services.ts';

/**
 * @param onlyPartId this part alone, whatever is muted or soloed
 * @param sampleRate of what is rendered
 */
export async function planToBounce(
  document: ProjectDocument,
  onlyPartId?: string,
  sampleRate = ENGINE_SAMPLE_RATE,
): Promise<RenderPlan> {
  await Promise.all(Object.keys(document.sources).map((id) => library.load(id)));
  await renderings.complete(document);
  const song = { ...document.song, values: withValues(SONG_ROWS, document.song.values, { clickOn: false }) };
  const assets = library.audio;
  return compilePlan({ ...document, song }, sampleRate, { assets, renderings, onlyPartId });
}

/** A worker that is made for one request, and goes with it. */
export async function inWorker<Request, Result>(
  worker: Worker,
  request: Request,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<Result> {
  const client = new WorkerClient<Request>(worker);
  try {
    return await client.call<Result>(request, { signal, onProgress });
  } finally {
    client.close();
  }
}

/** A renderer waits so long for the next that is to be rendered: what its code was compiled to is still there. */
const WAITS_MS = 120_000;
let waiting: WorkerClient<BounceRequest> | null = null;
let waitsUntil: ReturnType<typeof setTimeout> | undefined;

export async function bounceInWorker(
  request: BounceRequest,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<BounceResult> {
  const client =
    waiting ??
    new WorkerClient<BounceRequest>(
      new Worker(new URL('../workers/bounce.worker.ts', import.meta.url), { type: 'module' }),
    );
  waiting = null;
  try {
    const result = await client.call<BounceResult>(request, { signal, onProgress });
    letWait(client);
    return result;
  } catch (error) {
    client.close();
    throw error;
  }
}

function letWait(client: WorkerClient<BounceRequest>): void {
  waiting?.close();
  waiting = client;
  clearTimeout(waitsUntil);
  waitsUntil = setTimeout(() => {
    waiting?.close();
    waiting = null;
  }, WAITS_MS);
}

/** A plan for each slice as it sounds. Slices that nothing plays are left out. @param sampleRate null: the engine's */
export async function planSlices(
  document: ProjectDocument,
  part: Part,
  slices: readonly { cutId: string; slice: { id: string; name: string } }[],
  sampleRate: number | null,
): Promise<PlannedSlice[]> {
  await renderings.complete(document);
  const assets = library.audio;
  const plans: PlannedSlice[] = [];
  for (const { cutId, slice } of slices) {
    const alone = soundingSlice(document, part, cutId, slice.id);
    if (!alone) continue;
    const plan = compilePlan(alone.document, sampleRate ?? ENGINE_SAMPLE_RATE, { assets, renderings });
    plans.push({ plan, lengthTicks: alone.lengthTicks, slice });
    // The page goes on meanwhile.
    await new Promise((resolve) => setTimeout(resolve));
  }
  return plans;
}
