import { frames } from "./demo/make/decode";
import { copyFrame, frameFromBytes } from "./src/core/pixels/frame";
import { applyTouch } from "./src/core/retouch/touch";
const [raw] = [...frames("demo/takes/office.mp4", [0], "yuv420p", 1920 * 1080 * 1.5)];
const frame= frameFromBytes(new Uint8Array(raw), 1920, 1080, { model: "yuv", bits: 8, subX: 1, subY: 1, alpha: false });
const box = (x: number, y: number, w: number, h: number) => [[x, y],[x + w, y],[x + w, y + h],[x, y + h]];
const which=process.argv[2];
for (let k=0;k<(which==="fill"?2:6);k++){ const w=copyFrame(frame); const t=performance.now(); applyTouch(w, which==="fill"?{id:"f",kind:"fill",outline:box(860,640,300,200),seed:k} as any:{id:"g",kind:"graft",outline:box(300,300,512,512),offset:[700,100]} as any,{original:frame,siting:"left"}); console.log(which,(performance.now()-t).toFixed(0)); }
