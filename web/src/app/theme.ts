import { preferences } from "@/format/preferences";

const dark = window.matchMedia("(prefers-color-scheme: dark)");

/** Day or night on the root element, by preference or by the system. */
export function applyTheme(): void {
  const { theme } = preferences();
  const night = theme === "night" || (theme === "system" && dark.matches);
  document.documentElement.dataset.theme = night ? "night" : "day";
}

dark.addEventListener("change", applyTheme);
