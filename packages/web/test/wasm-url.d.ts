/** Address of a file that the build puts beside the page. */
declare const url: string;
export default url;
