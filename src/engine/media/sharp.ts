/** sharp, once a picture file is read or written: what needs none, as most of the command line, begins sooner without it. */
export const sharp = async () => (await import("sharp")).default;
