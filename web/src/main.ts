import { mount } from "svelte";
import "@fontsource/b612/latin-400.css";
import "@fontsource/b612/latin-700.css";
import "@fontsource/b612-mono/latin-400.css";
import "./app.css";
import App from "./App.svelte";

const target = document.getElementById("app");
if (target) mount(App, { target });
