const AREA = '/obligations';
export const ASSESSMENTS = `${AREA}/assessments`;
export const LIBRARY = `${AREA}/library`;
export const MEASURES = `${AREA}/measures`;
export const FAILED = `${MEASURES}?show=failed`;

export const assessmentLink = (id: number | string) => `${ASSESSMENTS}/${id}`;
export const frameworkLink = (id: string) => `${LIBRARY}/${encodeURIComponent(id)}`;
export const measureLink = (key: string) => `${MEASURES}/${encodeURIComponent(key)}`;
