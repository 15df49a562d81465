import { viewLeaveOn } from "@/services/idle";
import { LeaveOn } from "@/ui/quiet/leave-on";
import { services } from "../services";

export const metadata = { title: "Leave it on · Umbrik" };

type Props = { searchParams: Promise<{ token?: string }> };

export default async function Page({ searchParams }: Props) {
  const { token } = await searchParams;
  const text = typeof token === "string" ? token : "";
  return <LeaveOn view={await viewLeaveOn(services(), text)} token={text} />;
}
