"use client";
import { useQuery } from "@tanstack/react-query";
import Link from "next/link";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { fetchShot } from "@/client/api";
import { type Editor, createEditor } from "@/client/editor/editor";
import { takeOf } from "@/client/editor/state/select";
import { listen } from "@/client/events";
import { loadPreferences } from "@/client/preferences";
import { Moth } from "../parts/Moth";
import { EditorScreen } from "./EditorScreen";
import { EditorContext } from "./context";

/** Opens a shot: fetches its document once, then the editor keeps it. */
export function EditorPage({ id }: { id: string }) {
  const query = useQuery({ queryKey: ["shot", id], queryFn: () => fetchShot(id), staleTime: Infinity, gcTime: 0 });
  const [editor, setEditor] = useState<Editor | null>(null);
  const doc = query.data;
  useEffect(() => {
    if (!doc) return;
    // one note at a time: a new one takes the place of the one before (each with an id of its own, since one that goes takes its id along a moment later)
    let note: string | number | null = null;
    const away = () => {
      if (note !== null) toast.dismiss(note);
      note = null;
    };
    const b = createEditor(doc, {
      problem: (m) => void toast.error(m, { id: m, duration: 12000 }),
      said(m, instead) {
        away();
        note = toast(m, { action: instead && { label: instead.words, onClick: instead.run }, duration: instead ? 9000 : 4000 });
      },
      ended: away,
    });
    void loadPreferences();
    setEditor(b);
    b.refresh();
    void b.loadSurvey();
    const stop = listen(
      (e) => {
        if (e.type === "shot" && e.id === id) void b.queue.follow(e.rev);
        if (e.type === "take") b.takeChanged(e.take);
        if (e.type === "task") {
          b.tasks.progress(e.id, e.done, e.total);
          b.proving.progress(e.id, e.done, e.total);
        }
        if (e.type === "returned" && e.shotId === id)
          void (e.failed ? toast.error(e.words, { duration: 12000 }) : toast(e.words, { duration: 8000 }));
        if (e.type === "survey" && e.takeId === takeOf(b.store.getState()).id) void b.loadSurvey();
        if (e.type === "job") window.dispatchEvent(new CustomEvent("umber-job", { detail: e.job }));
      },
      () => {
        void fetchShot(id).then(
          (now) => {
            Object.values(now.takes).forEach(b.takeChanged);
            void b.queue.follow(now.rev);
          },
          () => undefined, // what it says is said where it is asked for by hand
        );
      },
    );
    return () => {
      stop();
      b.close();
      setEditor(null);
    };
  }, [doc, id]);
  if (query.isError) {
    return (
      <main className="flex h-full flex-col items-center justify-center gap-4">
        <Moth size={40} />
        <p role="alert">{query.error.message}</p>
        <Link href="/" className="text-ochre underline">
          To the productions
        </Link>
      </main>
    );
  }
  if (!editor) return <main className="flex h-full items-center justify-center text-dim">Opening the shot …</main>;
  return (
    <EditorContext.Provider value={editor}>
      <EditorScreen />
    </EditorContext.Provider>
  );
}
