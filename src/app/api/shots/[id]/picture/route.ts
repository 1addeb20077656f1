import { passPicture } from "@/web/pass-picture";
import { checkedId, route } from "@/web/route";
import { pictureQuerySchema } from "@/wire/plate";

/** The planes of a picture that is no frame, one after another. */
export const GET = route<{ id: string }>((req, { id }) => {
  const { hash } = pictureQuerySchema.parse(Object.fromEntries(new URL(req.url).searchParams));
  return passPicture(`/shots/${checkedId(id)}/picture?${new URLSearchParams({ hash })}`);
});
