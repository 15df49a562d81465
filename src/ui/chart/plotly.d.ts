declare module "plotly.js-dist-min" {
  type Plot = {
    react: (host: HTMLElement, traces: readonly unknown[], layout: unknown, config: unknown) => Promise<unknown>;
    purge: (host: HTMLElement) => void;
  };
  const plotly: Plot;
  export default plotly;
}
