/** A key for a write that may have to be sent again. crypto.randomUUID needs a secure context; a tablet in the shop may not have one. */
export const newKey = () => Array.from(crypto.getRandomValues(new Uint8Array(12)), (b) => b.toString(16).padStart(2, "0")).join("");
