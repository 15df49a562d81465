/** True for what can stand as one recipient: a local part and a domain (RFC 5321, without quoting), no display name, no list. */
export function isAddress(text: string): boolean {
  return text.length <= 254 && /^[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9](?:[A-Za-z0-9.-]*[A-Za-z0-9])?$/.test(text);
}
