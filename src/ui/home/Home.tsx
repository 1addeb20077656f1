"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Film, Plus } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { fetchState, uploadTake } from "@/client/api";
import { listen } from "@/client/events";
import { Button } from "../parts/Button";
import { Moth } from "../parts/Moth";
import { Coming, type Upload } from "./Coming";
import { ShotPicture } from "./ShotPicture";

/** The productions: their shots as pictures. Footage dropped anywhere begins a take. */
export function Home() {
  const query = useQuery({ queryKey: ["state"], queryFn: fetchState });
  const client = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const target = useRef<string | null>(null);

  useEffect(() => {
    const again = () => void client.invalidateQueries({ queryKey: ["state"] });
    return listen((e) => {
      if (e.type === "take" && e.take.state === "failed") toast.error(e.take.error ?? "The take could not be read.", { duration: 20000 });
      if (e.type !== "job") again();
    }, again);
  }, [client]);

  const send = async (files: FileList | File[], production: string | null) => {
    for (const file of files) {
      const id = crypto.randomUUID();
      const change = (part: Partial<Upload>) => setUploads((u) => u.map((x) => (x.id === id ? { ...x, ...part } : x)));
      setUploads((u) => [...u, { id, name: file.name, share: 0, error: null }]);
      try {
        await uploadTake(file, production, (share) => change({ share }));
        setUploads((u) => u.filter((x) => x.id !== id));
        void client.invalidateQueries({ queryKey: ["state"] });
      } catch (e) {
        change({ error: e instanceof Error ? e.message : String(e) });
      }
    }
  };

  const productions = query.data?.productions ?? [];
  return (
    <main
      className="min-h-full"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void send(e.dataTransfer.files, productions[0]?.id ?? null);
      }}
    >
      <header className="flex h-11 items-center gap-3 border-b border-line px-4">
        <Moth />
        <h1 className="text-[15px] font-semibold">Umber Moth</h1>
        <span className="text-dim">takes booms, rigs and their shadows out of locked-off shots</span>
      </header>
      <input
        ref={picker}
        type="file"
        multiple
        className="hidden"
        aria-label="Footage"
        accept="video/*,.mkv,.mxf"
        onChange={(e) => {
          if (e.target.files) void send([...e.target.files], target.current);
          e.target.value = "";
        }}
      />
      <div className="mx-auto max-w-[1180px] px-6 py-6">
        {query.isError && (
          <p role="alert" className="mb-4 text-brick">
            {query.error.message}
          </p>
        )}
        {uploads.length > 0 && <Coming uploads={uploads} dismiss={(id) => setUploads((u) => u.filter((x) => x.id !== id))} />}
        {productions.map((p) => (
          <section key={p.id} className="mb-10">
            <div className="mb-3 flex items-baseline gap-3">
              <h2 className="text-[20px]">{p.name}</h2>
              <span className="text-dim">{p.shots.length === 1 ? "1 shot" : `${p.shots.length} shots`}</span>
              <span className="flex-1" />
              <Button
                onClick={() => {
                  target.current = p.id;
                  picker.current?.click();
                }}
              >
                <Plus size={14} aria-hidden /> Add footage
              </Button>
            </div>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))] gap-5">
              {p.takes.map((t) => (
                <ShotPicture key={t.id} take={t} shot={p.shots.find((s) => s.takeId === t.id) ?? null} />
              ))}
            </ul>
          </section>
        ))}
        {query.isSuccess && (
          <button
            type="button"
            onClick={() => {
              target.current = productions[0]?.id ?? null;
              picker.current?.click();
            }}
            className={clsx(
              "flex w-full flex-col items-center gap-2 rounded-md border border-dashed",
              productions.length ? "py-8" : "py-24",
              over ? "border-ochre text-bone" : "border-line text-dim hover:border-dim hover:text-bone",
            )}
          >
            <Film size={22} aria-hidden />
            <span>{over ? "Let go: it becomes a take" : "Drop footage anywhere on this page, or click to choose a file"}</span>
            <span className="text-[12px] text-dim">MP4, MOV, MKV, WebM, MXF or AVI. Originals are never written to.</span>
          </button>
        )}
      </div>
    </main>
  );
}
