"use client";
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

/** A dialog over the page: title, words, content, and buttons at its foot. Escape and a click beside it close it. */
export function Modal({
  title,
  about,
  wide,
  huge,
  onClose,
  children,
  foot,
}: {
  title: string;
  about?: ReactNode;
  wide?: boolean;
  huge?: boolean;
  onClose: () => void;
  children?: ReactNode;
  foot: ReactNode;
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 flex max-h-[86vh] -translate-x-1/2 -translate-y-1/2 flex-col rounded-md border border-line bg-panel p-5 ${huge ? "w-[900px] max-w-[96vw]" : wide ? "w-[640px]" : "w-[460px]"}`}
        >
          <Dialog.Title className="mb-2 text-[17px] font-semibold">{title}</Dialog.Title>
          {about && <div className="mb-3 text-dim">{about}</div>}
          <div className="min-h-0 flex-1 overflow-auto">{children}</div>
          <div className="mt-4 flex justify-end gap-2">{foot}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
