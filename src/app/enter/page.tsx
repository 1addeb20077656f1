import { Enter } from "@/ui/home/Enter";

export default function Page() {
  return <Enter />;
}
