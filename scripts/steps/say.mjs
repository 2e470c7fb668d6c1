/** Tells what a script is doing, and ends it with a message where it cannot go on. */
export const say = (text) => console.error(`• ${text}`);

export function stop(what, remedy) {
  console.error(`✗ ${what}\n  ${remedy}`);
  process.exit(1);
}
