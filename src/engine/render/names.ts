/** What is written for a shot is named alike: the shot, what it is, and of single pictures the frame, with leading zeros. */
const inFile = (s: string) => s.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "");

/** The name of what is written, without its ending: `Ticket-hall-mended`. */
export const writtenName = (shot: string, what: string): string => `${inFile(shot) || "shot"}-${inFile(what)}`;

/** The name of one picture, without its ending: `Ticket-hall-mended-0050`. */
export const pictureName = (shot: string, what: string, frame: number): string => `${writtenName(shot, what)}-${String(frame).padStart(4, "0")}`;
