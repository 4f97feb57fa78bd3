/**
 * What is typed between the shortcut and the moment its field is drawn (the field's code loads when it is first asked
 * for): it is meant for the field, and never for shortcuts or notes.
 */
class TypedAhead {
  private text: string | null = null;
  private entered = false;

  /** From now on keys are kept. */
  begin(): void {
    this.text = '';
    this.entered = false;
  }

  /** True where the key was kept. */
  keep(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey'>): boolean {
    if (this.text === null || event.ctrlKey || event.metaKey || event.altKey || this.entered)
      return this.entered && event.key.length === 1;
    if (event.key === 'Enter') this.entered = true;
    else if (event.key === 'Backspace') this.text = this.text.slice(0, -1);
    else if (event.key.length === 1) this.text += event.key;
    else return false;
    return true;
  }

  /** The field is there, or is not wanted any more: what was typed, and whether Enter was pressed after it. */
  take(): { text: string; entered: boolean } {
    const taken = { text: this.text ?? '', entered: this.entered };
    this.text = null;
    this.entered = false;
    return taken;
  }
}

export const typedAhead = new TypedAhead();
