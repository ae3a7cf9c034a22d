// Lets the linter's type service read .vue imports; vue-tsc checks the real props.
declare module '*.vue' {
  import type { DefineComponent } from 'vue'
  const component: DefineComponent
  export default component
}
declare module '@fontsource-variable/*'
