/** What a browser keeps, for tests that run without one. */
class Kept {
  private readonly kept = new Map<string, string>();
  getItem = (name: string) => this.kept.get(name) ?? null;
  setItem = (name: string, value: string) => void this.kept.set(name, value);
  removeItem = (name: string) => void this.kept.delete(name);
  clear = () => this.kept.clear();
}
Object.assign(globalThis, { localStorage: new Kept(), sessionStorage: new Kept() });
