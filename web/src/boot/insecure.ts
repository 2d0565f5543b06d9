/** What a page says that was opened over plain HTTP from elsewhere: the browser gives such a page too little to be safe. */
export function sayInsecure(root: HTMLElement): void {
  document.title = 'Not safe here – Katharos';
  const main = document.createElement('main');
  main.className = 'plain-page';
  main.setAttribute('role', 'alert');
  const add = (tag: 'h1' | 'p' | 'li', text: string, to: HTMLElement = main): void => {
    to.append(Object.assign(document.createElement(tag), { textContent: text }));
  };
  add('h1', 'This address is not safe to work at');
  add('p', 'It begins with http:, so anybody on the way could read and change what is sent. The browser also keeps back what Katharos needs:');
  const list = document.createElement('ul');
  add('li', 'nothing can be written down: there are no safe ids for readings, ticks and approvals', list);
  add('li', 'nothing works without signal, and nothing can be installed', list);
  add('li', 'two tabs cannot agree which of them sends', list);
  main.append(list);
  add('p', 'Open the address that begins with https:, as the owner of the firm gave it to you. Nothing was sent from here.');
  root.replaceChildren(main);
} // oxfmt-ignore
