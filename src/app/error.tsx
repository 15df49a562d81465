"use client";
import { Button } from "@/ui/kit/button";

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <div className="flex flex-col items-start gap-2 px-4 py-6">
      <h1 className="font-medium text-[20px] leading-7">This page could not be read.</h1>
      <p>The database or the clock did not answer. Nothing was changed; rounds go on by themselves once it answers again.</p>
      <Button look="strong" onClick={reset}>
        Try again
      </Button>
    </div>
  );
}
