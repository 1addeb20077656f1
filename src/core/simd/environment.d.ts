/** The little of its environment that the core uses beyond the language itself: every browser and Node have it. Read where the core is checked by itself. */
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array);
  }
  class Memory {
    constructor(size: { initial: number });
    readonly buffer: ArrayBuffer;
  }
  class Instance {
    constructor(module: Module, imports: Record<string, Record<string, Memory>>);
    readonly exports: Record<string, unknown>;
  }
}
declare function atob(text: string): string;
