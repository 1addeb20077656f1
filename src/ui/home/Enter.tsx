"use client";
import { type FormEvent, useState, useSyncExternalStore } from "react";
import { enter } from "@/client/api";
import { Button } from "../parts/Button";
import { Moth } from "../parts/Moth";

const never = () => () => undefined;

/** Asks for the passphrase when the program is opened from another machine. */
export function Enter() {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const [under, setUnder] = useState(false);
  // as the server sends it, the page does not listen yet
  const deaf = useSyncExternalStore(
    never,
    () => false,
    () => true,
  );
  const send = async (e: FormEvent) => {
    e.preventDefault();
    setUnder(true);
    try {
      await enter(text);
      location.assign("/");
    } catch (e) {
      setWrong(e instanceof Error ? e.message : String(e));
      setUnder(false);
    }
  };
  return (
    <main className="flex min-h-full items-center justify-center" aria-busy={deaf}>
      <form onSubmit={(e) => void send(e)} className="w-[360px] rounded-md border border-line bg-panel p-6">
        <div className="mb-4 flex items-center gap-3">
          <Moth />
          <h1 className="text-[17px] font-semibold">Umber Moth</h1>
        </div>
        <label className="block">
          <span className="mb-1 block text-dim">Passphrase</span>
          <input
            type="password"
            autoFocus
            autoComplete="current-password"
            className="h-8 w-full rounded-md border border-line bg-ground px-2"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        {wrong && (
          <p role="alert" className="mt-2 text-brick">
            {wrong}
          </p>
        )}
        <Button type="submit" tone="main" className="mt-4 w-full" disabled={under || !text}>
          Enter
        </Button>
      </form>
    </main>
  );
}
