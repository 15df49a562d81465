"use client";
import Link from "next/link";
import { useSearchParams } from "next/navigation";
import type { ComponentProps } from "react";
import { atAddress } from "./address";

export type AtLinkProps = Omit<ComponentProps<typeof Link>, "href"> & { href: string };

/** A link that keeps the instant the application answers as of, and which money it tells. */
export function AtLink({ href, ...rest }: AtLinkProps) {
  const params = useSearchParams();
  return <Link href={atAddress(href, { at: params.get("at"), money: params.get("money") })} {...rest} />;
}
