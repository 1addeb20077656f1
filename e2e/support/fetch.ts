/**
 * Kept connections may be closed by the other side between two requests, which on a busy machine happens now and then: such a request
 * is sent once more, as a browser does.
 */
const plain = globalThis.fetch;
globalThis.fetch = async (...args: Parameters<typeof fetch>) => {
  try {
    return await plain(...args);
  } catch (e) {
    const code = String(((e as Error).cause as NodeJS.ErrnoException | undefined)?.code);
    if (!/UND_ERR_SOCKET|ECONNRESET|EPIPE/.test(code)) throw e;
    return plain(...args);
  }
};
