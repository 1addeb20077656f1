import type { Metadata } from "next";
import type { ReactNode } from "react";
import { Frame } from "@/ui/parts/Frame";
import "./globals.css";

export const metadata: Metadata = { title: "Umber Moth", description: "Takes booms, rigs and their shadows out of locked-off shots." };
/** Every page gets its own nonce, so none is made ahead. */
export const dynamic = "force-dynamic";

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <Frame>{children}</Frame>
      </body>
    </html>
  );
}
