/** The icons that are used, each by itself: their package's one door leads through six thousand of them. */
export { default as IconAntenna } from '@tabler/icons-react/dist/esm/icons/IconAntenna.mjs';
export { default as IconArrowBackUp } from '@tabler/icons-react/dist/esm/icons/IconArrowBackUp.mjs';
export { default as IconArrowForwardUp } from '@tabler/icons-react/dist/esm/icons/IconArrowForwardUp.mjs';
export { default as IconCalendarPlus } from '@tabler/icons-react/dist/esm/icons/IconCalendarPlus.mjs';
export { default as IconCamera } from '@tabler/icons-react/dist/esm/icons/IconCamera.mjs';
export { default as IconCheck } from '@tabler/icons-react/dist/esm/icons/IconCheck.mjs';
export { default as IconDownload } from '@tabler/icons-react/dist/esm/icons/IconDownload.mjs';
export { default as IconHandFinger } from '@tabler/icons-react/dist/esm/icons/IconHandFinger.mjs';
export { default as IconHelp } from '@tabler/icons-react/dist/esm/icons/IconHelp.mjs';
export { default as IconMenu2 } from '@tabler/icons-react/dist/esm/icons/IconMenu2.mjs';
export { default as IconMoon } from '@tabler/icons-react/dist/esm/icons/IconMoon.mjs';
export { default as IconPhone } from '@tabler/icons-react/dist/esm/icons/IconPhone.mjs';
export { default as IconPlus } from '@tabler/icons-react/dist/esm/icons/IconPlus.mjs';
export { default as IconPrinter } from '@tabler/icons-react/dist/esm/icons/IconPrinter.mjs';
export { default as IconQrcode } from '@tabler/icons-react/dist/esm/icons/IconQrcode.mjs';
export { default as IconSun } from '@tabler/icons-react/dist/esm/icons/IconSun.mjs';
export { default as IconUpload } from '@tabler/icons-react/dist/esm/icons/IconUpload.mjs';
