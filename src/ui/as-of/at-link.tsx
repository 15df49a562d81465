"use client";
import Link from "next/link";
import { useSearchParams } from "next/navigation";
import type { ComponentProps } from "react";
import { atAddress } from "./address";

export type AtLinkProps = Omit<ComponentProps<typeof Link>, "href"> & { href: string };

/** A link that keeps the instant the application answers as of. */
export function AtLink({ href, ...rest }: AtLinkProps) {
  const at = useSearchParams().get("at");
  return <Link href={atAddress(href, at)} {...rest} />;
}
