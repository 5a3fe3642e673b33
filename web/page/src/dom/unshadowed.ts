/**
 * A form whose own members are read whatever its controls are called: one named `dataset` or
 * `closest` hides the member of that name (HTML, section 4.10.3). What it gives is for reading and
 * calling, not for passing on as a node.
 */
export function unshadowed<T extends HTMLElement>(element: T): T {
  const members = Object.getPrototypeOf(element) as object;
  return new Proxy(element, {
    get(_, key) {
      const member: unknown = Reflect.get(members, key, element);
      return typeof member === 'function' ? (member.bind(element) as unknown) : member;
    },
    set: (_, key, value) => Reflect.set(members, key, value, element),
  });
}
