"use client";
import clsx from "clsx";
import type { ComponentProps, ReactNode } from "react";
import { Tip } from "./Tip";

type Props = ComponentProps<"button"> & { tone?: "plain" | "main" | "fault" };

export function Button({ tone = "plain", className, ...rest }: Props) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex h-7 items-center justify-center gap-1.5 rounded-md px-3 whitespace-nowrap disabled:opacity-45",
        tone === "main" && "bg-ochre font-semibold text-ground enabled:hover:brightness-110",
        tone === "plain" && "border border-line bg-raised text-bone enabled:hover:border-dim",
        tone === "fault" && "border border-brick text-bone enabled:hover:bg-[#c8694f33]",
        className,
      )}
      {...rest}
    />
  );
}

/** A button that is only a picture: its name and key are in the tooltip. */
export function IconButton({
  name,
  keys,
  active,
  children,
  className,
  side,
  ...rest
}: ComponentProps<"button"> & { name: string; keys?: string; active?: boolean; children: ReactNode; side?: "top" | "bottom" | "left" | "right" }) {
  return (
    <Tip text={name} keys={keys} side={side}>
      <button
        type="button"
        aria-label={name}
        className={clsx(
          "inline-flex h-7 w-7 items-center justify-center rounded-md text-dim enabled:hover:text-bone disabled:opacity-40",
          active && "text-ochre",
          className,
        )}
        {...rest}
      >
        {children}
      </button>
    </Tip>
  );
}
