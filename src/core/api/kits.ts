/** What server and page say to each other about kits. */

export interface KitSummary {
  id: string;
  name: string;
  /** Sounds on its keys. */
  soundCount: number;
  createdAt: number;
}
