import { NextResponse, type NextRequest } from "next/server";
import { hasEntered, isExposed } from "@/web/entry";
import { fromOurPage, fromThisMachine } from "@/web/route";

/** A content security policy by nonce for pages. Routes under /api do not pass here: a proxy would buffer what is uploaded. */
export function proxy(req: NextRequest): NextResponse {
  // what pages are made of and holds nothing of the user's: only the name it is asked by is checked
  if (/^\/(_next\/|icon|favicon)/.test(req.nextUrl.pathname))
    return fromOurPage(req) || fromThisMachine(req)
      ? NextResponse.next()
      : new NextResponse("This address is not allowed to use Umber Moth.", { status: 403 });
  // a link from elsewhere may open a page; nothing else from elsewhere is answered
  const allowed = fromOurPage(req) || (fromThisMachine(req) && req.headers.get("sec-fetch-mode") === "navigate");
  if (!allowed) return new NextResponse("This address is not allowed to use Umber Moth.", { status: 403 });
  if (isExposed() && req.nextUrl.pathname !== "/enter" && !hasEntered(req)) return NextResponse.redirect(new URL("/enter", req.url));
  const nonce = btoa(crypto.randomUUID());
  const csp = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(req.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", csp);
  const res = NextResponse.next({ request: { headers } });
  res.headers.set("content-security-policy", csp);
  return res;
}

export const config = { matcher: ["/((?!api/).*)"] };
