import { afterEach, describe, expect, it, vi } from 'vitest';
import { AppError } from '#core/units/errors.ts';
import { ApiError } from '../api/client.ts';
import { serve, WorkerClient, type FromWorker } from './rpc.ts';

/** Both sides of a worker in one thread: messages are cloned on the way, as real ones are. */
function connect<Request>(handle: Parameters<typeof serve<Request>>[0]): WorkerClient<Request> {
  const page = {
    onmessage: null as ((event: { data: FromWorker }) => void) | null,
    onerror: null,
    terminate: () => {},
    postMessage: (data: unknown) => {
      const copy = structuredClone(data);
      setTimeout(() => inside.onmessage?.({ data: copy }));
    },
  };
  const inside = {
    onmessage: null as ((event: { data: unknown }) => void) | null,
    postMessage: (data: FromWorker) => {
      const copy = structuredClone(data);
      setTimeout(() => page.onmessage?.({ data: copy }));
    },
  };
  vi.stubGlobal('self', inside);
  serve(handle);
  return new WorkerClient<Request>(page as unknown as Worker);
}
afterEach(() => vi.unstubAllGlobals());

describe('calls into a worker', () => {
  it('bring results back to the call that asked, whatever the order', async () => {
    const client = connect<number>(async (ms) => {
      await new Promise((resolve) => setTimeout(resolve, ms));
      return { result: ms * 2 };
    });
    expect(await Promise.all([client.call<number>(30), client.call<number>(1)])).toEqual([60, 2]);
  });

  it('keep an error’s code and details', async () => {
    const client = connect<string>(async () => {
      throw new AppError('format.silent', 'only silence', { format: 'wav' });
    });
    const error = await client.call('x').catch((caught: unknown) => caught);
    expect(error).toBeInstanceOf(AppError);
    expect(error).toMatchObject({ code: 'format.silent', message: 'only silence', details: { format: 'wav' } });
  });

  it('keep what a server answered', async () => {
    const client = connect<string>(async () => {
      throw new ApiError(0, 'server.unreachable', 'no answer');
    });
    const error = await client.call('x').catch((caught: unknown) => caught);
    expect(error).toBeInstanceOf(ApiError);
    expect(error).toMatchObject({ status: 0, code: 'server.unreachable' });
  });

  it('that are given up before they began are never begun', async () => {
    let begun = 0;
    const client = connect<number>(async () => ({ result: ++begun }));
    const signal = AbortSignal.abort();
    await expect(client.call(1, { signal })).rejects.toMatchObject({ code: 'cancelled' });
    expect(await client.call(2)).toBe(1);
  });

  it('report progress and stop when they are given up', async () => {
    let steps = 0;
    const client = connect<number>(async (count, job) => {
      for (let i = 0; i < count; i++) {
        steps++;
        const until = performance.now() + 2;
        while (performance.now() < until);
        if (!(await job.progress(i / count))) throw new AppError('cancelled', 'given up');
      }
      return { result: 'done' };
    });
    const shares: number[] = [];
    const abort = new AbortController();
    const call = client.call(1000, {
      signal: abort.signal,
      onProgress: (share) => {
        shares.push(share);
        if (shares.length === 3) abort.abort();
      },
    });
    await expect(call).rejects.toMatchObject({ code: 'cancelled' });
    // Told every tenth of a second, however often it is asked to: a word costs the page a frame.
    expect(shares[0]).toBe(0);
    expect(shares.length).toBeLessThan(6);
    expect(steps).toBeLessThan(200);
  });
});
