import type { NextConfig } from "next";

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  typescript: { ignoreBuildErrors: true }, // types are checked by their own step, over more than the pages
  compress: false, // everything stays on this machine; frames are sent raw
  headers: async () => [
    {
      source: "/:path*",
      headers: [
        { key: "x-content-type-options", value: "nosniff" },
        { key: "x-frame-options", value: "DENY" },
        { key: "referrer-policy", value: "no-referrer" },
        { key: "cross-origin-opener-policy", value: "same-origin" },
        { key: "cross-origin-resource-policy", value: "same-origin" },
        { key: "permissions-policy", value: "camera=(), microphone=(), geolocation=()" },
      ],
    },
  ],
};

export default config;
