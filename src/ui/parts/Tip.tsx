"use client";
import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";

/** A tooltip that names the thing and its key. */
export function Tip({
  text,
  keys,
  children,
  side = "bottom",
}: {
  text: string;
  keys?: string;
  children: ReactNode;
  side?: "top" | "bottom" | "left" | "right";
}) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side={side}
          sideOffset={6}
          className="z-50 max-w-72 rounded-md border border-line bg-raised px-2 py-1 text-[12px] text-bone shadow-lg"
        >
          {text}
          {keys && <kbd className="num ml-2 text-ochre">{keys}</kbd>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
