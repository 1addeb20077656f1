"use client";
import { useQuery } from "@tanstack/react-query";
import { readGrain } from "@/core/match/grain";
import { measuredUrl } from "@/client/api";

const [W, H] = [236, 56];

/** How strong the grain is by brightness, and how it holds together: what was measured. */
export function GrainCurve({ hash }: { hash: string }) {
  const { data } = useQuery({
    queryKey: ["grain", hash],
    staleTime: Infinity,
    queryFn: async () => readGrain(await (await fetch(measuredUrl(hash))).text()),
  });
  if (!data) return null;
  const { sigma, covariance } = data.planes[0];
  const top = Math.max(1, ...sigma.map(([, s]) => s)) * 1.15;
  const at = ([level, s]: [number, number]) => `${((level / 255) * W).toFixed(1)} ${(H - (s / top) * H).toFixed(1)}`;
  const mean = sigma.reduce((a, [, s]) => a + s, 0) / sigma.length;
  const words = `${mean.toFixed(2)} codes on average; neighbours alike by ${covariance[41].toFixed(2)}, frames by ${data.inTime.toFixed(2)}`;
  return (
    <figure className="pt-1">
      <svg width={W} height={H} role="img" aria-label={`Grain by brightness: ${words}`} className="border-b border-l border-line">
        <polyline points={sigma.map(at).join(", ")} fill="none" stroke="#d9a441" strokeWidth="1.5" />
      </svg>
      <figcaption className="flex justify-between pt-0.5 text-[12px] text-dim">
        <span>dark</span>
        <span className="num">up to {Math.max(...sigma.map(([, s]) => s)).toFixed(1)} codes</span>
        <span>bright</span>
      </figcaption>
      <p className="text-[12px] text-dim">{words}</p>
    </figure>
  );
}
