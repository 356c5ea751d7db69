import "@fontsource-variable/source-sans-3/wght.css";
import "./theme/app.css";

import { mount } from "svelte";

import App from "./app/App.svelte";
import { applyTheme } from "./theme/theme.svelte";

applyTheme();
const target = document.getElementById("app");
if (target) mount(App, { target });
