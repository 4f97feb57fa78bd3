/** What the machine is called that leads in the place of this one, and has the document; empty: this one does. */
export const elsewhere = { leads: '' };
