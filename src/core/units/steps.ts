/**
 * Long work in steps: a generator that yields the share done (0..1) and returns the result. Whoever runs it may show
 * progress, let messages in between, or stop by not going on.
 */
export type Steps<Result> = Generator<number, Result>;

/** Runs all steps at once. */
export function runToEnd<Result>(steps: Steps<Result>): Result {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}

/** Runs the steps of a part of some work: its shares are mapped onto `from`..`to` of the whole. */
export function* within<Result>(steps: Steps<Result>, from: number, to: number): Steps<Result> {
  let step = steps.next();
  while (!step.done) {
    yield from + step.value * (to - from);
    step = steps.next();
  }
  return step.value;
}
