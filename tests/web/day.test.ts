import { parseDay } from "../../web/src/shared/day";

test.each([
  ["2024-07-18", "2024-07-18"],
  ["2024-7-8", "2024-07-08"],
  [" 18 July 2024 ", "2024-07-18"],
  ["18 jul 2024", "2024-07-18"],
  ["26 Sept 2024", "2024-09-26"],
  ["8.7.2024", "2024-07-08"],
  ["29 February 2024", "2024-02-29"],
])("%s is a day", (text, day) => {
  expect(parseDay(text)).toBe(day);
});

test.each([
  "",
  "7/8/2024",
  "29 February 2023",
  "2024-13-01",
  "31.4.2024",
  "18 Jx 2024",
  "18 2024",
  "0000-01-01",
  "2024",
])("%j is none", (text) => {
  expect(parseDay(text)).toBeNull();
});
