/** How long the page was busy in one go, out of what the browser recorded of itself. */

interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** Processor time, microseconds: what others took of a crowded machine does not count. */
  tdur?: number;
  args: { name?: string };
}

/** @param trace of the category `toplevel`, as `Browser.stopTracing` gives it */
export function longestTaskMs(trace: Buffer): number {
  const { traceEvents } = JSON.parse(trace.toString()) as { traceEvents: TraceEvent[] };
  const threads = new Set(
    traceEvents
      .filter(({ name, args }) => name === 'thread_name' && args.name === 'CrRendererMain')
      .map(({ pid, tid }) => `${pid} ${tid}`),
  );
  const tasks = traceEvents.filter(({ ph, pid, tid }) => ph === 'X' && threads.has(`${pid} ${tid}`));
  return tasks.reduce((longest, { tdur = 0 }) => Math.max(longest, tdur / 1000), 0);
}
