import { theme } from 'ant-design-vue'
import { DARK, LIGHT } from './palette'

/** Our look as tokens of the component library, light or dark. */
export function themeTokens(dark: boolean) {
  const { ink, ink2, ink3, fir, snow, paper, line, stopped, waiting, shade } = dark ? DARK : LIGHT
  const soft = dark ? DARK['fir-soft'] : LIGHT['fir-soft']
  return {
    algorithm: dark ? theme.darkAlgorithm : theme.defaultAlgorithm,
    token: {
      colorPrimary: fir,
      colorLink: fir,
      colorLinkHover: fir,
      colorText: ink,
      colorTextPlaceholder: ink2,
      colorTextDisabled: ink2,
      colorTextQuaternary: ink3,
      colorIcon: ink2,
      colorBgBase: snow,
      colorBgContainer: paper,
      colorBgElevated: paper,
      colorBgContainerDisabled: shade,
      colorBorder: line,
      colorError: stopped,
      colorWarning: waiting,
      controlItemBgActive: soft,
      controlItemBgHover: shade,
      borderRadius: 2,
      fontFamily: "'Atkinson Hyperlegible Next', sans-serif",
      fontSize: 14,
      controlHeight: 28,
      motion: false,
      wireframe: true,
    },
  }
}
