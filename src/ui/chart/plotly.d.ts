declare module "plotly.js-dist-min" {
  type Plot = {
    react: (host: HTMLElement, traces: readonly unknown[], layout: unknown, config: unknown) => Promise<unknown>;
    purge: (host: HTMLElement) => void;
    downloadImage: (
      figure: unknown,
      options: { format: string; filename: string; width: number; height: number },
    ) => Promise<string>;
  };
  const plotly: Plot;
  export default plotly;
}
