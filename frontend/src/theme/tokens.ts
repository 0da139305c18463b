import { theme } from 'ant-design-vue'

/** Our look as tokens of the component library, by the system's light or dark. */
export function themeTokens(dark: boolean) {
  return {
    algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: dark ? '#7fc4bb' : '#14484A',
      colorText: dark ? '#e8eeea' : '#15212A',
      colorBgBase: dark ? '#18222a' : '#FBFCFA',
      colorBorder: dark ? '#3a4851' : '#CDD5CE',
      colorError: '#C2452D',
      colorWarning: '#C08A12',
      borderRadius: 2,
      fontFamily: "'Atkinson Hyperlegible Next', sans-serif",
      fontSize: 14,
      controlHeight: 28,
      motion: false,
      wireframe: true,
    },
  }
}
