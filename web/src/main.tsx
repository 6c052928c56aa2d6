import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "ol/ol.css";
import "./app/base.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { App } from "./app/App";

const root = document.getElementById("root");
if (!root) throw new Error("The page has no place to draw in.");
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
