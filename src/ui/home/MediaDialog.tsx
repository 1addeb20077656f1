"use client";
import { useQuery } from "@tanstack/react-query";
import { ChevronRight, Film, Folder, Images } from "lucide-react";
import { useState } from "react";
import { fetchMedia, fetchMediaRoots, type Rate } from "@/client/api";
import type { MediaEntry } from "@/wire/media";
import { Button } from "../parts/Button";
import { Modal } from "../parts/Modal";
import { RateField, rateOf } from "./RateField";

const ICONS = { folder: Folder, film: Film, stills: Images };
const size = (b: number) => (b > 1e9 ? `${(b / 1e9).toFixed(1)} GB` : b > 1e6 ? `${(b / 1e6).toFixed(1)} MB` : `${Math.ceil(b / 1e3)} kB`);

interface Props {
  title: string;
  about: string;
  action: string;
  /** Whether numbered stills need a rate here. */
  asksRate: boolean;
  onClose: () => void;
  onUse: (root: number, path: string, rate?: Rate) => void;
}

/** The media folders: footage in them is used where it lies, without a copy. */
export function MediaDialog({ title, about, action, asksRate, onClose, onUse }: Props) {
  const [at, setAt] = useState<{ root: number; path: string } | null>(null);
  const [chosen, setChosen] = useState<MediaEntry | null>(null);
  const [rate, setRate] = useState("24");
  const roots = useQuery({ queryKey: ["media"], queryFn: fetchMediaRoots });
  const folder = useQuery({ queryKey: ["media", at], queryFn: () => fetchMedia(at!.root, at!.path), enabled: !!at });
  const go = (to: typeof at) => {
    setAt(to);
    setChosen(null);
  };
  const below = (name: string) => (at!.path ? `${at!.path}/${name}` : name);
  const needsRate = asksRate && chosen?.kind === "stills";
  const given = rateOf(rate);
  const crumbs = at?.path ? at.path.split("/") : [];
  const error = roots.error ?? folder.error;
  return (
    <Modal
      wide
      title={title}
      about={about}
      onClose={onClose}
      foot={
        <>
          {needsRate && <RateField value={rate} onChange={setRate} />}
          <span className="flex-1" />
          <Button onClick={onClose}>Close</Button>
          <Button
            tone="main"
            disabled={!chosen || (needsRate && !given)}
            onClick={() => chosen && at && onUse(at.root, below(chosen.name), needsRate ? given! : undefined)}
          >
            {action}
          </Button>
        </>
      }
    >
      <nav aria-label="Folders" className="mb-2 flex flex-wrap items-center gap-1 text-dim">
        <button type="button" className="hover:text-bone" onClick={() => go(null)}>
          Media folders
        </button>
        {at && (
          <>
            <ChevronRight size={13} aria-hidden />
            <button type="button" className="hover:text-bone" onClick={() => go({ root: at.root, path: "" })}>
              {roots.data?.roots[at.root]}
            </button>
          </>
        )}
        {crumbs.map((c, i) => (
          <span key={i} className="flex items-center gap-1">
            <ChevronRight size={13} aria-hidden />
            <button type="button" className="hover:text-bone" onClick={() => go({ root: at!.root, path: crumbs.slice(0, i + 1).join("/") })}>
              {c}
            </button>
          </span>
        ))}
      </nav>
      {error && (
        <p role="alert" className="text-brick">
          {error.message}
        </p>
      )}
      <ul className="h-[300px] overflow-auto rounded-md border border-line bg-ground py-1" aria-label="Footage">
        {!at &&
          roots.data?.roots.map((name, root) => (
            <Row key={root} icon="folder" name={name} about="" on={false} onClick={() => go({ root, path: "" })} />
          ))}
        {roots.data?.roots.length === 0 && (
          <li className="px-3 py-2 text-dim">
            There are no media folders. Start with UMBER_MEDIA set to the folders of your footage, and it is used where it lies.
          </li>
        )}
        {at &&
          folder.data?.entries.map((e) => (
            <Row
              key={e.name}
              icon={e.kind}
              name={e.name}
              about={e.count ? `${e.count} stills` : e.bytes !== null ? size(e.bytes) : ""}
              on={chosen?.name === e.name}
              onClick={() => (e.kind === "folder" ? go({ root: at.root, path: below(e.name) }) : setChosen(e))}
            />
          ))}
        {at && folder.data?.entries.length === 0 && <li className="px-3 py-2 text-dim">No footage here.</li>}
      </ul>
    </Modal>
  );
}

function Row({ icon, name, about, on, onClick }: { icon: MediaEntry["kind"]; name: string; about: string; on: boolean; onClick: () => void }) {
  const Icon = ICONS[icon];
  return (
    <li>
      <button
        type="button"
        aria-pressed={icon === "folder" ? undefined : on}
        onClick={onClick}
        className={`flex h-8 w-full items-center gap-2 px-3 text-left ${on ? "bg-raised text-bone" : "hover:bg-raised"}`}
      >
        <Icon size={15} aria-hidden className={on ? "text-ochre" : "text-dim"} />
        <span className="min-w-0 flex-1 truncate">{name}</span>
        <span className="num text-dim">{about}</span>
      </button>
    </li>
  );
}
