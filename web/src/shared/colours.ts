/** The colours of the app by what they are for: in the light, and in the dark. */
export const colours = {
  page: ["#F7F5F0", "#12181D"],
  panel: ["#FFFFFF", "#1A2228"],
  ink: ["#1C262D", "#ECE7DC"],
  ink2: ["#56626B", "#9BA8B0"],
  line: ["#DDD8CD", "#2C3840"],
  slate: ["#A9B4BA", "#51616B"],
  brass: ["#B07A1E", "#E3AC4B"],
  brassSoft: ["#F3E6CB", "#3A3018"],
  fault: ["#A2342D", "#F08A7F"],
  faultSoft: ["#F3E4E1", "#2B2326"],
  window: ["#CFE3DC", "#24453F"],
  good: ["#2F6B58", "#7CC4AD"],
  lining: ["#8A7660", "#A08C72"],
} as const;
