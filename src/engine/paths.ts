import { join, resolve } from "node:path";

/** Where everything lies below the data folder. */
export function dataPaths(root = process.env.UMBER_DATA || "./data") {
  const data = resolve(root);
  return {
    data,
    incoming: join(data, "incoming"),
    cache: join(data, "cache"),
    /** Demo footage that is delivered as stills. */
    demo: join(data, "demo"),
    take: (id: string) => join(data, "takes", id),
    index: (id: string) => join(data, "takes", id, "index.json"),
    render: (jobId: string) => join(data, "renders", jobId),
    renders: join(data, "renders"),
    survey: (id: string) => join(data, "takes", id, "survey.json"),
    /** Pictures that were brought in, by the hash of their content. */
    pictures: join(data, "pictures"),
    /** Plates that were built from many frames: caches. */
    built: join(data, "built"),
    /** Where plates are written out to be retouched elsewhere. */
    outside: join(data, "outside"),
    settings: join(data, "settings.json"),
  };
}
export type DataPaths = ReturnType<typeof dataPaths>;
