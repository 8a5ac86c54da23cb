/** The package has this file; its types know it by the folder's name alone. */
declare module 'selenium-webdriver/http/index.js' {
  export * from 'selenium-webdriver/http';
}
