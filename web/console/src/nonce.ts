/** The nonce that the service gave this page; styles that carry it are let through. */
export const NONCE = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')!.content;

// Ant Design gives its own styles the nonce, but measures scroll bars with one that has none.
const createElement = document.createElement.bind(document);
document.createElement = (name: string, options?: ElementCreationOptions) => {
  const element = createElement(name, options);
  if (name === 'style') {
    element.nonce = NONCE;
  }
  return element;
};
