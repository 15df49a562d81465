/** The hours over the wall, named by their clock time. */
export function HourScale() {
  return (
    <div aria-hidden className="flex gap-2 text-[12px] text-soft">
      <span className="w-[104px] shrink-0 max-sm:hidden" />
      <div className="relative h-4 flex-1">
        {[0, 3, 6, 9, 12, 15, 18, 21, 24].map((hour) => (
          <span
            key={hour}
            className={`absolute ${hour % 6 === 0 ? "" : "max-sm:hidden"}`}
            style={{
              left: `${(hour / 24) * 100}%`,
              transform: hour === 0 ? "none" : hour === 24 ? "translateX(-100%)" : "translateX(-50%)",
            }}
          >
            {String(hour).padStart(2, "0")}:00
          </span>
        ))}
      </div>
      <span className="w-[176px] shrink-0 max-sm:hidden" />
    </div>
  );
}
