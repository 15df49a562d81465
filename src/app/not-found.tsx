import Link from "next/link";

export default function NotFound() {
  return (
    <div className="px-4 py-6">
      <h1 className="font-medium text-[20px] leading-7">There is nothing here.</h1>
      <p>
        It may have been renamed or removed. Go to <Link href="/">what runs now</Link>, <Link href="/fleets">the fleets</Link> or{" "}
        <Link href="/rounds">the rounds</Link>.
      </p>
    </div>
  );
}
