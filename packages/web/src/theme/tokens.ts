import { theme as antd, type ThemeConfig } from 'antd'

export type ThemeName = 'dark' | 'light'

/** Every surface is a true neutral (R=G=B); lake marks what is chosen or running, ochre what asks for attention. */
export const palettes = {
  dark: {
    ground: '#1f1f1f',
    plane: '#282828',
    raised: '#323232',
    line: '#474747',
    lineQuiet: '#373737',
    text: '#ececec',
    text2: '#b8b8b8',
    text3: '#9a9a9a',
    lake: '#35a7a0',
    lakeDeep: '#17615d',
    onLake: '#f4f4f4',
    ochre: '#d9a03c',
    /** What the whites of an aim ring lie on. */
    ringGround: '#1a1a1a',
  },
  light: {
    ground: '#dcdcdc',
    plane: '#eaeaea',
    raised: '#f6f6f6',
    line: '#b0b0b0',
    lineQuiet: '#cacaca',
    text: '#1b1b1b',
    text2: '#454545',
    text3: '#5a5a5a',
    lake: '#0c6a65',
    lakeDeep: '#0c6a65',
    onLake: '#ffffff',
    ochre: '#7d5200',
    ringGround: '#6e6e6e',
  },
} as const

export const sansFamily = '"Spline Sans Variable", sans-serif'
export const figureFamily = '"Spline Sans Mono Variable", monospace'

/** Ant Design's tokens from a palette. */
export function antdTheme(name: ThemeName): ThemeConfig {
  const p = palettes[name]
  return {
    algorithm: name === 'dark' ? antd.darkAlgorithm : antd.defaultAlgorithm,
    token: {
      colorPrimary: p.lakeDeep,
      colorPrimaryHover: p.lake,
      colorPrimaryActive: p.lakeDeep,
      colorPrimaryBorder: p.lake,
      colorPrimaryBg: p.raised,
      colorPrimaryBgHover: p.raised,
      colorInfo: p.lake,
      colorLink: p.lake,
      colorLinkHover: p.text,
      colorWarning: p.ochre,
      colorError: p.ochre,
      colorErrorText: p.ochre,
      colorErrorBorderHover: p.ochre,
      colorSuccess: p.text2,
      colorBgBase: p.ground,
      colorBgLayout: p.ground,
      colorBgContainer: p.plane,
      colorBgElevated: p.raised,
      colorTextBase: p.text,
      colorText: p.text,
      colorTextSecondary: p.text2,
      colorTextTertiary: p.text3,
      colorTextQuaternary: p.text3,
      colorTextPlaceholder: p.text3,
      colorTextLightSolid: p.onLake,
      colorBorder: p.line,
      colorBorderSecondary: p.lineQuiet,
      colorSplit: p.lineQuiet,
      controlItemBgActive: p.raised,
      controlItemBgActiveHover: p.raised,
      controlItemBgHover: p.raised,
      controlOutline: 'transparent',
      fontFamily: sansFamily,
      fontSize: 13,
      lineHeight: 18 / 13,
      borderRadius: 2,
      borderRadiusLG: 2,
      borderRadiusSM: 2,
      controlHeight: 28,
      boxShadow: 'none',
      boxShadowSecondary: `0 0 0 1px ${p.line}`,
      motion: false,
    },
    components: {
      Button: {
        fontWeight: 500,
        defaultBg: p.raised,
        defaultShadow: 'none',
        primaryShadow: 'none',
        dangerShadow: 'none',
        paddingInline: 12,
      },
      Table: {
        headerBg: p.plane,
        headerColor: p.text3,
        headerSplitColor: 'transparent',
        rowHoverBg: p.raised,
        rowSelectedBg: p.raised,
        rowSelectedHoverBg: p.raised,
        borderColor: p.lineQuiet,
        cellPaddingBlockSM: 6,
        cellPaddingInlineSM: 10,
      },
      Segmented: { itemSelectedBg: p.raised, trackBg: p.ground, itemColor: p.text2, itemSelectedColor: p.text },
      Modal: { contentBg: p.plane, headerBg: p.plane },
      Form: { itemMarginBottom: 12, labelColor: p.text2, verticalLabelPadding: '0 0 2px' },
      Input: { activeShadow: 'none', activeBorderColor: p.lake, hoverBorderColor: p.text3 },
      InputNumber: { activeShadow: 'none', activeBorderColor: p.lake, hoverBorderColor: p.text3 },
      Select: {
        activeOutlineColor: 'transparent',
        activeBorderColor: p.lake,
        hoverBorderColor: p.text3,
        optionSelectedBg: p.ground,
      },
    },
  }
}
