import { expect, test } from "vitest";
import { coalesce } from "./coalesce";

test("many who ask at once are answered by two pieces of work: the one under way and one that began after they asked", async () => {
  let begun = 0;
  let end = () => {};
  const work = () => {
    begun++;
    const number = begun;
    return new Promise<number>((resolve) => {
      end = () => resolve(number);
    });
  };
  const first = coalesce("a", work);
  const rest = Array.from({ length: 50 }, () => coalesce("a", work));
  expect(begun).toBe(1);
  end();
  expect(await first).toBe(1);
  await Promise.resolve();
  expect(begun).toBe(2);
  const late = coalesce("a", work);
  end();
  expect(await Promise.all(rest)).toEqual(Array.from({ length: 50 }, () => 2));
  await new Promise((resolve) => setTimeout(resolve, 0));
  end();
  expect(await late, "it was asked while the second was under way").toBe(3);
});

test("what fails fails for those who waited for it alone", async () => {
  const faults = ["broke"];
  const work = async () => {
    await Promise.resolve();
    const fault = faults.pop();
    if (fault) throw new Error(fault);
    return "fine";
  };
  const first = coalesce("b", work);
  const second = coalesce("b", work);
  await expect(first).rejects.toThrow("broke");
  expect(await second).toBe("fine");
  expect(await coalesce("b", work)).toBe("fine");
});
