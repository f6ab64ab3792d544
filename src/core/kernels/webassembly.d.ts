/** The part of WebAssembly that the core uses: part of the language's surroundings everywhere, but in no `lib` of ours. */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Instance {
    constructor(module: Module, imports: Record<string, never>);
    readonly exports: Record<string, unknown>;
  }
}
