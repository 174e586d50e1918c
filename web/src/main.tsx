import "@fontsource/atkinson-hyperlegible-next/latin-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-600.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-400.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-600.css";
import "./theme.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { startWorker } from "./offline/keeping";
import { applyTheme } from "./shell/theme";

applyTheme();
startWorker();

const place = document.getElementById("app");
if (place) {
  createRoot(place).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
