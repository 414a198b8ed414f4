/** Two looks: warm paper at the bench, black on near-white in bright sun. */
type Look = 'paper' | 'sun';

class Theme {
  look = $state<Look>(globalThis.localStorage?.getItem('kunstflug.look') === 'sun' ? 'sun' : 'paper');

  constructor() {
    this.apply();
  }

  switch(): void {
    this.look = this.look === 'paper' ? 'sun' : 'paper';
    globalThis.localStorage?.setItem('kunstflug.look', this.look);
    this.apply();
  }

  private apply(): void {
    globalThis.document?.documentElement.setAttribute('data-theme', this.look);
  }
}

export const theme = new Theme();
