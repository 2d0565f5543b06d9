/** The icons that are used, each by itself: their package's one door leads through two thousand of them. */
export { default as IconAntenna } from 'lucide-react/icons/antenna';
export { default as IconArrowBackUp } from 'lucide-react/icons/undo-2';
export { default as IconArrowForwardUp } from 'lucide-react/icons/redo-2';
export { default as IconCalendarPlus } from 'lucide-react/icons/calendar-plus';
export { default as IconCamera } from 'lucide-react/icons/camera';
export { default as IconCheck } from 'lucide-react/icons/check';
export { default as IconDownload } from 'lucide-react/icons/download';
export { default as IconHandFinger } from 'lucide-react/icons/pointer';
export { default as IconHelp } from 'lucide-react/icons/circle-question-mark';
export { default as IconMenu } from 'lucide-react/icons/menu';
export { default as IconMoon } from 'lucide-react/icons/moon';
export { default as IconPhone } from 'lucide-react/icons/phone';
export { default as IconPlus } from 'lucide-react/icons/plus';
export { default as IconPrinter } from 'lucide-react/icons/printer';
export { default as IconQrcode } from 'lucide-react/icons/qr-code';
export { default as IconSun } from 'lucide-react/icons/sun';
export { default as IconUpload } from 'lucide-react/icons/upload';
