import "@fontsource-variable/archivo/wght.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { applyTheme } from "../app/colorMode";
import { colours } from "../shared/colours";
import { CustomerPage } from "./CustomerPage";
import "./customer.css";

applyTheme();
const dark = document.documentElement.classList.contains("dark") ? 1 : 0;
for (const [name, pair] of Object.entries(colours)) document.documentElement.style.setProperty(`--${name}`, pair[dark]);

const root = document.getElementById("root");
if (!root) throw new Error("customer.html has no #root");
createRoot(root).render(
  <StrictMode>
    <CustomerPage token={window.location.pathname.split("/")[2] ?? ""} />
  </StrictMode>,
);
