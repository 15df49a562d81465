"use client";
import { useRouter } from "next/navigation";
import { useEffect } from "react";

const EVERY_MS = 2_000;

/** Draws the page anew every other second for as long as what it shows is under way. */
export function FollowPage({ isOpen }: { isOpen: boolean }) {
  const router = useRouter();
  useEffect(() => {
    if (!isOpen) return;
    const timer = setInterval(() => router.refresh(), EVERY_MS);
    return () => clearInterval(timer);
  }, [isOpen, router]);
  return null;
}
