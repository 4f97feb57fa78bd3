/** What is used here of a package without types. */
declare module 'postcss-pxtorem' {
  import type { AcceptedPlugin } from 'postcss';
  interface Options {
    rootValue?: number;
    unitPrecision?: number;
    propList?: readonly string[];
    mediaQuery?: boolean;
    minPixelValue?: number;
  }
  export default function pxToRem(options: Options): AcceptedPlugin;
}
