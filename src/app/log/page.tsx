import { LogView } from "@/ui/home/LogView";

export default function Page() {
  return <LogView />;
}
