"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { Film, Folder, Plus } from "lucide-react";
import Link from "next/link";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { ApiError, fetchState, leave, placeTake, addMedia } from "@/client/api";
import { uploadStills, uploadTake } from "@/client/upload";
import { listen } from "@/client/events";
import { uuid } from "@/client/uuid";
import { byNumber, droppedFiles, isStill, stillsName } from "@/client/input/dropped";
import type { Take } from "@/wire/take";
import { Button } from "../parts/Button";
import { ReportMenu } from "../parts/ReportMenu";
import { Moth } from "../parts/Moth";
import { CacheLine } from "./CacheLine";
import { Coming, type Upload } from "./Coming";
import { KeptCopies } from "./KeptCopies";
import { UnnamedLine } from "./UnnamedLine";
import { MediaDialog } from "./MediaDialog";
import { NoticeLines } from "./NoticeLines";
import { RemoveDialog } from "./RemoveDialog";
import { ShotPicture } from "./ShotPicture";
import { StillsDialog } from "./StillsDialog";

/** The productions: their shots as pictures. Footage dropped anywhere begins a take. */
export function Home() {
  const query = useQuery({ queryKey: ["state"], queryFn: fetchState });
  const client = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const target = useRef<string | null>(null);
  const [asked, setAsked] = useState<{ files: File[]; production: string | null } | null>(null);
  const [media, setMedia] = useState<{ production: string | null; place?: Take } | null>(null);
  const [removing, setRemoving] = useState<{ what: "take" | "production"; id: string } | null>(null);

  useEffect(() => {
    const again = () => void client.invalidateQueries({ queryKey: ["state"] });
    return listen((e) => {
      if (e.type === "take" && e.take.state === "failed") toast.error(e.take.error ?? "The take could not be read.", { duration: 20000 });
      if (e.type !== "job") again();
    }, again);
  }, [client]);

  const under = async (name: string, run: (progress: (share: number) => void) => Promise<unknown>) => {
    const id = uuid();
    const change = (part: Partial<Upload>) => setUploads((u) => u.map((x) => (x.id === id ? { ...x, ...part } : x)));
    setUploads((u) => [...u, { id, name, share: 0, error: null }]);
    try {
      await run((share) => change({ share }));
      setUploads((u) => u.filter((x) => x.id !== id));
      void client.invalidateQueries({ queryKey: ["state"] });
    } catch (e) {
      change({ error: e instanceof Error ? e.message : String(e) });
    }
  };

  /** Films become takes one by one; several stills become one take together, at a rate that is asked for. */
  const send = async (files: File[], production: string | null) => {
    const stills = files.filter(isStill);
    const films = stills.length > 1 ? files.filter((f) => !isStill(f)) : files;
    if (stills.length > 1) setAsked({ files: byNumber(stills), production });
    for (const file of films) await under(file.name, (p) => uploadTake(file, production, p));
  };

  const productions = query.data?.productions ?? [];
  return (
    <main
      className="min-h-full"
      aria-busy={query.isPending}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => e.currentTarget === e.target && setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void droppedFiles(e.dataTransfer).then((files) => send(files, productions[0]?.id ?? null));
      }}
    >
      <header className="flex h-11 items-center gap-3 border-b border-line px-4">
        <Moth />
        <h1 className="text-[15px] font-semibold">Umber Moth</h1>
        <span className="flex-1 text-dim">takes booms, rigs and their shadows out of locked-off shots</span>
        {query.data?.exposed && <Button onClick={() => void leave().finally(() => location.assign("/enter"))}>Leave</Button>}
      </header>
      <input
        ref={picker}
        type="file"
        multiple
        className="hidden"
        aria-label="Footage"
        accept="video/*,.mkv,.mxf,.png,.tif,.tiff,.jpg,.jpeg"
        onChange={(e) => {
          if (e.target.files) void send([...e.target.files], target.current);
          e.target.value = "";
        }}
      />
      <div className="mx-auto max-w-[1180px] px-6 py-6">
        {query.isError && (
          <div className="mb-6 max-w-[760px]">
            <p role="alert" className="mb-3 text-brick">
              {query.error.message}
            </p>
            {query.error instanceof ApiError && query.error.code === "trouble" && <KeptCopies open />}
          </div>
        )}
        {!!query.data?.notices.length && (
          <NoticeLines notices={query.data.notices} onAway={() => void client.invalidateQueries({ queryKey: ["state"] })} />
        )}
        {uploads.length > 0 && <Coming uploads={uploads} dismiss={(id) => setUploads((u) => u.filter((x) => x.id !== id))} />}
        {productions.map((p) => (
          <section key={p.id} className="mb-10">
            <div className="mb-3 flex items-center gap-3">
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
              <Button onClick={() => setMedia({ production: p.id })}>
                <Folder size={14} aria-hidden /> Use footage where it lies
              </Button>
              {p.shots.length > 0 && <ReportMenu of="production" id={p.id} name={p.name} />}
              <Button onClick={() => setRemoving({ what: "production", id: p.id })} aria-label={`Remove ${p.name}`}>
                Remove
              </Button>
            </div>
            <ul className="grid grid-cols-[repeat(auto-fill,minmax(300px,1fr))] gap-5">
              {p.takes.flatMap((t) => {
                const mine = p.shots.filter((s) => s.takeId === t.id);
                return (mine.length ? mine : [null]).map((shot) => (
                  <ShotPicture
                    key={shot?.id ?? t.id}
                    take={t}
                    shot={shot}
                    onRemove={() => setRemoving({ what: "take", id: t.id })}
                    onPlace={() => setMedia({ production: p.id, place: t })}
                  />
                ));
              })}
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
            <span className="text-[12px] text-dim">
              MP4, MOV, MKV, WebM, MXF or AVI; numbered PNG, TIFF or JPEG stills together or as a folder. Originals are never written to.
            </span>
          </button>
        )}
        {query.isSuccess && productions.length === 0 && (
          <p className="mt-3 text-center">
            <Button onClick={() => setMedia({ production: null })}>
              <Folder size={14} aria-hidden /> Use footage where it lies
            </Button>
          </p>
        )}
        <CacheLine />
        {query.isSuccess && <UnnamedLine />}
        {query.isSuccess && <KeptCopies />}
        <p className="mt-3">
          <Link className="text-dim underline hover:text-bone" href="/log">
            What the program has said
          </Link>
        </p>
      </div>
      {asked && (
        <StillsDialog
          files={asked.files}
          onClose={() => setAsked(null)}
          onUse={(rate) => {
            const { files, production } = asked;
            setAsked(null);
            const name = stillsName(files);
            void under(name, (p) => uploadStills(files, name, rate, production, p));
          }}
        />
      )}
      {media && (
        <MediaDialog
          title={media.place ? `Where is “${media.place.name}”?` : "Use footage where it lies"}
          about={
            media.place
              ? "Choose the moved original. Its content is compared with what was read."
              : "Nothing is copied. The original is only ever read; keep its disk at hand."
          }
          action={media.place ? "It is this one" : "Make a take of it"}
          asksRate={!media.place}
          onClose={() => setMedia(null)}
          onUse={(root, path, rate) => {
            const { place, production } = media;
            setMedia(null);
            void under(path, () => (place ? placeTake(place.id, root, path) : addMedia(production, root, path, rate)));
          }}
        />
      )}
      {removing && <RemoveDialog {...removing} onClose={() => setRemoving(null)} />}
    </main>
  );
}
