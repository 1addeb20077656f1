import { type App, until } from "./app";
import type { Production, ShotDocument } from "../../src/wire/shot";

/** The program asked as its page asks it, without a browser. */
export class Session {
  constructor(readonly app: App) {}

  async get<T>(path: string): Promise<T> {
    const r = await fetch(this.app.url + path);
    if (!r.ok) throw new Error(`${path}: ${r.status} ${await r.text()}`);
    return (await r.json()) as T;
  }

  async post(path: string, body: unknown): Promise<{ status: number; value: Record<string, unknown> & { error?: string } }> {
    const r = await fetch(this.app.url + path, {
      method: "POST",
      headers: { "content-type": "application/json", origin: this.app.url },
      body: JSON.stringify(body),
    });
    return { status: r.status, value: (await r.json()) as Record<string, unknown> };
  }

  productions = async () => (await this.get<{ productions: Production[] }>("/api/state")).productions;
  takes = async () => (await this.productions()).flatMap((p) => p.takes);
  document = (id: string) => this.get<ShotDocument>(`/api/shots/${id}`);

  /** The shot of a take, once all of it is read. */
  shot = (name: string) =>
    until(`the shot ${name}`, async () => {
      const all = await this.productions();
      const ready = all.flatMap((p) => p.takes).filter((t) => t.state === "ready");
      return all.flatMap((p) => p.shots).find((s) => s.name === name && ready.some((t) => t.id === s.takeId));
    });

  upload = async (name: string, bytes: Uint8Array) => {
    const r = await fetch(`${this.app.url}/api/takes?${new URLSearchParams({ name })}`, {
      method: "POST",
      headers: { origin: this.app.url },
      body: bytes as BodyInit,
    });
    return { status: r.status, value: (await r.json()) as Record<string, unknown> & { error?: string } };
  };

  /** Gives a shot another name, in a change that can be taken back. */
  rename = async (shot: string, base: number, editId: string, name: string) => {
    const before = (await this.document(shot)).recipe.name;
    return this.post(`/api/shots/${shot}/edits`, {
      editId,
      base,
      name: `Call it ${name}`,
      patches: [{ op: "replace", path: ["name"], value: name }],
      inverse: [{ op: "replace", path: ["name"], value: before }],
    });
  };
}
