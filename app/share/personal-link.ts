/** The personal link of somebody who is named. @param beside the recording's link, or any other address of ours */
export const personalLink = (beside: string, key: string): string => new URL(`/for/${key}`, beside).href;
