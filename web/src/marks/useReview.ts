import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api } from "../api/client";
import type { ReviewBody } from "../api/types";

/** Send a review of a submission; then load its result again. */
export function useReview(submission: number, onDone: () => void) {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: (body: ReviewBody) => api.review(submission, body),
    onSuccess: async () => {
      await cache.invalidateQueries({ queryKey: ["result", submission] });
      onDone();
    },
  });
}
