/** The bytes of samples, as they lie in memory. */
export const bytesIn = (v: ArrayBufferView): Uint8Array => new Uint8Array(v.buffer, v.byteOffset, v.byteLength);
