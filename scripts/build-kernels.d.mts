export function compileKernels(): Promise<Uint8Array>;
