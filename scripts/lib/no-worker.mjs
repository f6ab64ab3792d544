// Stands in for threads that are never started: see yappa.mjs.
export default class NoWorker {
  constructor() {
    throw new Error('this command works in one thread');
  }
}
