/** Ends the program with a line for a person; 1 unless another code is given. */
export function giveUp(message, code = 1) {
  console.error(`umbrik: ${message}`);
  process.exit(code);
}

/** One line of progress on stderr, so that stdout stays for results. */
export function say(message) {
  console.error(`umbrik: ${message}`);
}
