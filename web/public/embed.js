/*
 * Shows public forms within a page of another site:
 *   <script src="https://…/embed.js" async></script>
 *   <bibliona-form form="app/form"></bibliona-form>
 * Any number of them, also ones that come into the page later. Each is as high as what it shows.
 */
(() => {
  const script = document.currentScript;
  if (script === null || customElements.get('bibliona-form') !== undefined) return;
  const { origin } = new URL(script.src);
  const highest = 20000;

  class PublicForm extends HTMLElement {
    connectedCallback() {
      if (this.frame !== undefined) return;
      const [app = '', form = ''] = (this.getAttribute('form') ?? '').split('/');
      this.frame = document.createElement('iframe');
      this.frame.src = `${origin}/public/${encodeURIComponent(app)}/${encodeURIComponent(form)}`;
      this.frame.title = this.getAttribute('title') ?? 'Form';
      this.frame.style.cssText = 'display: block; width: 100%; height: 480px; border: 0';
      this.append(this.frame);
    }
  }
  customElements.define('bibliona-form', PublicForm);

  window.addEventListener('message', ({ origin: from, source, data }) => {
    if (from !== origin || data?.bibliona !== 'height' || typeof data.height !== 'number') return;
    for (const { frame } of document.querySelectorAll('bibliona-form'))
      if (frame?.contentWindow === source) frame.style.height = `${Math.min(Math.max(data.height, 40), highest)}px`;
  });
})();
