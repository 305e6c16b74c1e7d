/** The theme is a choice of the device, not of the shop: a desk by day, a bay at night. */
export type ThemeChoice = "system" | "light" | "dark";

const key = "inner-compass.theme";

export function themeChoice(): ThemeChoice {
  const stored = localStorage.getItem(key);
  return stored === "light" || stored === "dark" ? stored : "system";
}

export function setTheme(choice: ThemeChoice) {
  localStorage.setItem(key, choice);
  applyTheme();
}

export function applyTheme() {
  const choice = themeChoice();
  const dark = choice === "dark" || (choice === "system" && matchMedia("(prefers-color-scheme: dark)").matches);
  document.documentElement.classList.toggle("dark", dark);
  document.documentElement.style.colorScheme = dark ? "dark" : "light";
}
