"use client";
import { X } from "lucide-react";
import { IconButton } from "../parts/Button";

export interface Upload {
  id: string;
  name: string;
  share: number;
  error: string | null;
}

/** Files on their way in, and what was refused with its reason. */
export function Coming({ uploads, dismiss }: { uploads: Upload[]; dismiss: (id: string) => void }) {
  return (
    <ul className="mb-6 space-y-2" aria-label="Files on their way">
      {uploads.map((u) => (
        <li key={u.id} className="flex items-center gap-3 rounded-md border border-line bg-panel px-3 py-2">
          {u.error ? (
            <>
              <span className="h-3 w-3 shrink-0 rounded-sm bg-brick" aria-hidden />
              <p role="alert" className="flex-1">
                {u.error}
              </p>
              <IconButton name="Dismiss" onClick={() => dismiss(u.id)}>
                <X size={14} />
              </IconButton>
            </>
          ) : (
            <>
              <span className="w-56 truncate">{u.name}</span>
              <div
                role="progressbar"
                aria-label={`Bringing in ${u.name}`}
                aria-valuenow={Math.round(u.share * 100)}
                className="h-1.5 flex-1 overflow-hidden rounded bg-ground"
              >
                <div className="h-full bg-ochre" style={{ width: `${u.share * 100}%` }} />
              </div>
              <span className="num w-12 text-right text-dim">{Math.round(u.share * 100)} %</span>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
